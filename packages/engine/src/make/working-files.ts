import type { MediaFacts, SizePx, TakeSeries, VideoFacts } from '@apodix/core';
import { probeStreams } from '../inspect/probe.ts';
import { INTERMEDIATE_VERSION } from '../picture/intermediate.ts';

/** Files that bringing in left behind and that make making faster. Each may be missing. */
export interface WorkingFiles {
  /** Near-lossless upright BT.709 picture of the whole take, frame for frame. */
  readonly intermediate?: { readonly path: string } & SizePx;
}

/**
 * Where the picture of a take is read from: the take itself, or a working file with the facts that go with
 * it.
 */
export interface PictureSource {
  readonly path: string;
  readonly container: MediaFacts['container'];
  readonly video: VideoFacts;
  readonly isTake: boolean;
}

/** Facts of a working picture: what bringing in made of the take's own. */
export function describeWorkingPicture(video: VideoFacts, size: SizePx): VideoFacts {
  return {
    ...video,
    codec: 'h264',
    pixelFormat: 'yuv422p10le',
    bitDepth: 10,
    chroma: '4:2:2',
    codedWidthPx: size.widthPx,
    codedHeightPx: size.heightPx,
    ...size,
    pixelAspect: { numerator: 1, denominator: 1 },
    rotationDegrees: 0,
    color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'limited' },
    hdr: null,
  };
}

/**
 * The best picture to make the file from: the intermediate where it is at least as large as the result, else
 * the take.
 */
export function choosePicture(
  take: { path: string; facts: MediaFacts },
  wanted: SizePx,
  working: WorkingFiles | undefined,
): PictureSource {
  const { video, container } = take.facts;
  if (!video) throw new TypeError('A take with a picture was expected.');
  const inter = working?.intermediate;
  const isLargeEnough =
    inter !== undefined &&
    Math.max(inter.widthPx, inter.heightPx) >= Math.max(wanted.widthPx, wanted.heightPx) &&
    Math.min(inter.widthPx, inter.heightPx) >= Math.min(wanted.widthPx, wanted.heightPx);
  return inter && isLargeEnough
    ? { path: inter.path, container: 'mp4', video: describeWorkingPicture(video, inter), isTake: false }
    : { path: take.path, container, video, isTake: true };
}

/** Two keyframes nearer to each other than this: seeking to the first might land on the second. */
const LONE_US = 250_000;

/**
 * Keyframes to begin reading at: of takes whose index finds each. None that another follows so soon that
 * seeking might land on that.
 */
export function listSeekable(
  take: {
    readonly facts: MediaFacts;
    readonly series: Pick<TakeSeries, 'keyframesUs'>;
    readonly joined?: readonly unknown[];
  },
  picture: PictureSource,
): number[] {
  const isFound =
    picture.isTake &&
    (picture.container === 'mp4' || picture.container === 'mov') &&
    take.facts.video?.interlace === 'progressive' &&
    !take.joined?.length;
  const { keyframesUs } = take.series;
  return isFound ? keyframesUs.filter((us, at) => (keyframesUs[at + 1] ?? Infinity) - us > LONE_US) : [];
}

/** An intermediate as working file, its size read from itself; none where it cannot be read. */
export async function openIntermediate(path: string | undefined): Promise<WorkingFiles> {
  if (path === undefined) return {};
  const probe = await probeStreams(path, 'mp4').catch(() => null);
  const stream = probe?.streams.find((each) => each.codec_type === 'video');
  // What an older version wrote is not what this one would: it is written anew, or the take itself is read.
  const isCurrent = probe?.format.tags?.comment === INTERMEDIATE_VERSION;
  return isCurrent && stream?.width && stream.height
    ? { intermediate: { path, widthPx: stream.width, heightPx: stream.height } }
    : {};
}
