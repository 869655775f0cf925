import { isCostlyToDecode, type MediaFacts, type SizePx, type VideoFacts } from '@apodix/core';
import { probeStreams } from '../inspect/probe.ts';

/** Files that bringing in left behind and that make making faster. Each may be missing. */
export interface WorkingFiles {
  /** Near-lossless upright BT.709 picture of the whole take, frame for frame. */
  readonly intermediate?: { readonly path: string } & SizePx;
}

/** Where the picture of a take is read from: the take itself, or a working file with the facts that go with it. */
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
    pixelFormat: 'yuv420p',
    bitDepth: 8,
    chroma: '4:2:0',
    codedWidthPx: size.widthPx,
    codedHeightPx: size.heightPx,
    ...size,
    pixelAspect: { numerator: 1, denominator: 1 },
    rotationDegrees: 0,
    color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'limited' },
    hdr: null,
  };
}

/** The best picture to make the file from: the intermediate where it is at least as large as the result, else the take. */
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

/** An intermediate as working file, its size read from itself; none where it cannot be read. */
export async function openIntermediate(path: string | undefined): Promise<WorkingFiles> {
  if (path === undefined) return {};
  const probe = await probeStreams(path, 'mp4').catch(() => null);
  const stream = probe?.streams.find((each) => each.codec_type === 'video');
  return stream?.width && stream.height
    ? { intermediate: { path, widthPx: stream.width, heightPx: stream.height } }
    : {};
}

/** Lines above which an intermediate keeps no more than this; assignments hardly ever ask for more. */
const INTERMEDIATE_SHORT_EDGE = 1080;
/** Smaller than this it is of no use once a limit is changed. */
const LEAST_SHORT_EDGE = 360;
/** A copy of a longer take would fill the disk. */
export const LONGEST_COPIED_US = 900_000_000;

/** Up to this length the intermediate is so fine that nothing is lost by it. */
const FINE_US = 300_000_000;

/** Rate factor of the intermediate: long takes would fill the disk at the finest. */
export function chooseIntermediateCrf(durationUs: number): number {
  return durationUs <= FINE_US ? 8 : 12;
}

/**
 * Size of the intermediate of a take that is costly to decode (HDR, more than 8 bits, or over 1080 lines); null where none is worth it.
 * With `mostLines` it has no more than the limits allow, so that nothing is scaled twice.
 */
export function planIntermediate(
  video: VideoFacts,
  durationUs: number,
  mostLines: number | null = null,
): SizePx | null {
  const short = Math.min(video.widthPx, video.heightPx);
  if (!(isCostlyToDecode(video) || short > INTERMEDIATE_SHORT_EDGE) || durationUs > LONGEST_COPIED_US)
    return null;
  const scale = Math.min(
    1,
    Math.min(INTERMEDIATE_SHORT_EDGE, Math.max(LEAST_SHORT_EDGE, mostLines ?? Infinity)) / short,
  );
  const even = (edge: number) => Math.max(2, Math.round((edge * scale) / 2) * 2);
  return { widthPx: even(video.widthPx), heightPx: even(video.heightPx) };
}
