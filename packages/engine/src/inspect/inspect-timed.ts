import {
  ApodixError,
  type ContainerId,
  type FrameTimes,
  type MediaFacts,
  type SoundFacts,
  type VideoFacts,
} from '@apodix/core';
import { hashFile } from '../process/hash-file.ts';
import { isMoovFirst } from './box-order.ts';
import { measureFrameRate, parseRational } from './frame-rate.ts';
import {
  measureDecode,
  type DecodeInput,
  type DecodeMeasurement,
  type DecodeOutput,
} from './measure-decode.ts';
import type { Probe } from './probes/probe.ts';
import { probePackets, probeStreams, type PacketSpan, type RawProbe, type RawStream } from './probe.ts';
import { normaliseCaptureTime } from '../process/capture-time.ts';
import { settleAll } from '../process/settle-all.ts';

export interface TimedInspection {
  readonly facts: MediaFacts;
  readonly frames: FrameTimes | null;
  /** Times of the picture's keyframes from the start of the file. */
  readonly keyframesUs: readonly number[];
  /** Errors that the decoder told of. */
  readonly decoded: { readonly frameCount: number; readonly errorCount: number };
}

/** What is known before a file is decoded. */
export interface KnownEarly {
  readonly video: VideoFacts | null;
  readonly sound: SoundFacts | null;
  readonly frames: FrameTimes | null;
  /** Times of the picture's keyframes from the start of the file. */
  readonly keyframesUs: readonly number[];
  readonly durationUs: number;
  /** Whether header or coding say that pictures are whole; where not, only decoding tells. */
  readonly isProgressive: boolean;
}

/** What a decode pass measures and makes on the side, once headers and times are known. */
export interface DecodeExtras {
  readonly probes?: readonly Probe[];
  readonly output?: DecodeOutput | undefined;
}
export interface InspectOptions {
  readonly signal?: AbortSignal;
  readonly onShare?: (share: number) => void;
  readonly buildExtras?: (known: KnownEarly) => DecodeExtras | Promise<DecodeExtras>;
  /**
   * A made file is held to what was planned: that less is there than its index says is told by the proof, not
   * refused.
   */
  readonly isProof?: boolean;
}

const LONGEST_US = 6 * 3600 * 1_000_000;

/**
 * Measures a video or sound file: headers, every time stamp, and one full decode. Times are counted from the
 * start of the file. Throws `TRUNCATED` where less is there than the index says, `DAMAGED` where frames do
 * not decode.
 */
export async function inspectTimed(
  path: string,
  container: ContainerId,
  sizeBytes: number,
  options: InspectOptions = {},
): Promise<TimedInspection> {
  const { signal } = options;
  const [probe, packets, moovFirst] = await settleAll([
    probeStreams(path, container, signal),
    probePackets(path, container, signal),
    isMoovFirst(path).catch(() => null),
  ]);
  const picture = probe.streams.find(
    (stream) => stream.codec_type === 'video' && stream.disposition?.attached_pic !== 1 && stream.width,
  );
  const sound = probe.streams.find(
    (stream) => stream.codec_type === 'audio' && stream.channels && stream.sample_rate,
  );
  if (!picture && !sound)
    throw new ApodixError('NOT_MEDIA', { detail: 'There is neither picture nor sound inside.' });
  const known = { path, container, sizeBytes, probe, packets, moovFirst, options };
  const whole = await inspectStreams(known, picture, sound).catch((error: unknown) => asUnreadable(error));
  // Sound of a kind that FFmpeg does not even know has neither channels nor rate.
  const hasStrangeSound = !sound && probe.streams.some((stream) => stream.codec_type === 'audio');
  if (!(whole instanceof ApodixError)) return hasStrangeSound ? withUnread(whole, 'sound') : whole;
  if (!picture || !sound || options.isProof) throw whole;
  // What can be read is brought in, and it is said what could not.
  const silent = await inspectStreams(known, picture, undefined).catch((error: unknown) =>
    asUnreadable(error),
  );
  if (!(silent instanceof ApodixError)) return withUnread(silent, 'sound');
  const heard = await inspectStreams(known, undefined, sound).catch((error: unknown) => asUnreadable(error));
  if (heard instanceof ApodixError) throw whole;
  return withUnread(heard, 'picture');
}

/** Codings that have whole pictures alone (RFC 6386, the VP9 and AV1 bitstream specifications). */
const WHOLE_PICTURES = new Set(['vp8', 'vp9', 'av1']);

/** Whether pictures are whole, as header or coding say; else it is measured. */
const isProgressive = (picture: RawStream | undefined) =>
  picture?.field_order === 'progressive' || WHOLE_PICTURES.has(picture?.codec_name ?? '');

/** A picture of which only a part decodes is damaged, and refused as that. */
const PARTLY = /^Only /;

/** The fault of a stream that cannot be decoded at all; anything else is thrown on. */
function asUnreadable(error: unknown): ApodixError {
  if (error instanceof ApodixError && error.code === 'DAMAGED' && !PARTLY.test(error.detail ?? ''))
    return error;
  throw error;
}

function withUnread(inspection: TimedInspection, unread: 'picture' | 'sound'): TimedInspection {
  return { ...inspection, facts: { ...inspection.facts, unread: [unread] } };
}

interface KnownFile {
  readonly path: string;
  readonly container: ContainerId;
  readonly sizeBytes: number;
  readonly probe: RawProbe;
  readonly packets: ReadonlyMap<number, PacketSpan>;
  readonly moovFirst: boolean | null;
  readonly options: InspectOptions;
}

/** Measures the given streams; `DAMAGED` where one of them does not decode. */
async function inspectStreams(
  { path, container, sizeBytes, probe, packets, moovFirst, options }: KnownFile,
  picture: RawStream | undefined,
  sound: RawStream | undefined,
): Promise<TimedInspection> {
  const { signal } = options;
  const originUs = Math.round((probe.format.start_time ?? 0) * 1e6);
  const pictureSpan = picture && packets.get(picture.index);
  const soundSpan = sound && packets.get(sound.index);
  if ((picture && !pictureSpan?.timesUs.length) || (!picture && !soundSpan?.timesUs.length))
    throw new ApodixError('TRUNCATED');
  for (const [stream, span] of [
    [picture, pictureSpan],
    [sound, soundSpan],
  ] as const)
    if (stream && span) refuseCutOff(stream, span, originUs, probe);

  const frames = pictureSpan ? buildFrameTimes(pictureSpan, originUs) : null;
  const video = picture && pictureSpan && frames ? describeVideo(picture, pictureSpan, frames) : null;
  const soundFacts =
    sound && soundSpan ? describeSound(sound, soundSpan, originUs, frames?.timesUs[0] ?? null) : null;
  const durationUs = Math.max(
    frames?.endUs ?? 0,
    soundFacts ? soundFacts.startUs + soundFacts.durationUs : 0,
    Math.round((probe.format.duration ?? 0) * 1e6),
  );
  if (durationUs > LONGEST_US) throw new ApodixError('TOO_LONG');

  const keyframesUs = pictureSpan?.keyTimesUs.map((timeUs) => timeUs - originUs) ?? [];
  const extras = await options.buildExtras?.({
    video,
    sound: soundFacts,
    frames,
    keyframesUs,
    durationUs,
    isProgressive: isProgressive(picture),
  });
  const decoding: DecodeInput = {
    path,
    container,
    pictureIndex: picture?.index ?? null,
    soundIndex: soundFacts ? (sound?.index ?? null) : null,
    seconds: 600 + durationUs / 100_000,
    isInterlaceKnown: isProgressive(picture),
    probes: extras?.probes ?? [],
    ...(extras?.output ? { output: extras.output } : {}),
    ...(signal ? { signal } : {}),
    onTimeUs: (timeUs) => options.onShare?.(Math.min(1, timeUs / Math.max(1, durationUs))),
  };
  const [measured, sha256] = await settleAll([measureDecode(decoding), hashFile(path, signal)]);
  if (video && !options.isProof) refuseDamaged(video, measured);
  return {
    frames,
    decoded: { frameCount: measured.frameCount, errorCount: measured.errorCount },
    keyframesUs,
    facts: {
      kind: video ? 'video' : 'sound',
      container: video || container !== 'mp4' ? container : 'm4a',
      sizeBytes,
      sha256,
      durationUs,
      moovFirst,
      video: video && {
        ...video,
        interlace: isProgressive(picture) ? 'progressive' : measured.interlace,
      },
      sound: soundFacts && {
        ...soundFacts,
        loudnessLufs: measured.loudnessLufs,
        loudnessRangeLu: measured.loudnessRangeLu,
        truePeakDbtp: measured.truePeakDbtp,
      },
      photo: null,
      document: null,
      continuity: null,
      seen: null,
      likeness: null,
      conditions: null,
      unread: [],
      ...readTags(probe),
    },
  };
}

/** The index promises more than is there: the copy was not finished. */
function refuseCutOff(stream: RawStream, span: PacketSpan, originUs: number, probe: RawProbe): void {
  const declaredS = stream.duration ?? (probe.streams.length === 1 ? probe.format.duration : undefined);
  if (declaredS === undefined || declaredS < 1) return;
  const thereS = (span.endUs - originUs) / 1e6;
  if (thereS < declaredS * 0.95 - 0.5)
    throw new ApodixError('TRUNCATED', {
      detail: `Only ${thereS.toFixed(1)} of ${declaredS.toFixed(1)} seconds are there.`,
    });
}

function refuseDamaged(video: VideoFacts, measured: DecodeMeasurement): void {
  if (measured.frameCount === 0) throw new ApodixError('DAMAGED', { detail: 'No picture could be decoded.' });
  if (measured.frameCount < video.frameCount * 0.97 - 2)
    throw new ApodixError('DAMAGED', {
      detail: `Only ${measured.frameCount} of ${video.frameCount} pictures could be decoded.`,
    });
}

function buildFrameTimes(span: PacketSpan, originUs: number): FrameTimes {
  const timesUs = span.timesUs.map((timeUs) => timeUs - originUs);
  const gaps = timesUs
    .slice(1)
    .map((timeUs, index) => timeUs - (timesUs[index] ?? 0))
    .sort((left, right) => left - right);
  const usualGap = gaps[Math.floor(gaps.length / 2)] ?? 40_000;
  const lastUs = timesUs.at(-1) ?? 0;
  // What the container says of its last frame counts: it may well be shown longer than the others.
  const endUs = span.endUs - originUs;
  const isTold = endUs > lastUs && endUs - lastUs < LONGEST_LAST_FRAME_US;
  return { timesUs, endUs: isTold ? endUs : lastUs + usualGap };
}

/** A last frame that is told to be shown longer than this is a mistake of the file. */
const LONGEST_LAST_FRAME_US = 30_000_000;

function describeVideo(stream: RawStream, span: PacketSpan, frames: FrameTimes): VideoFacts {
  const codedWidthPx = stream.width ?? 1;
  const codedHeightPx = stream.height ?? 1;
  const pixelAspect = parseRational(stream.sample_aspect_ratio) ?? { numerator: 1, denominator: 1 };
  const rotationDegrees = readRotation(stream);
  const shownWidth = Math.max(
    1,
    Math.round((codedWidthPx * pixelAspect.numerator) / pixelAspect.denominator),
  );
  const isTurned = rotationDegrees === 90 || rotationDegrees === 270;
  const { rate, kind } = measureFrameRate(
    frames,
    parseRational(stream.avg_frame_rate) ?? parseRational(stream.r_frame_rate),
  );
  const durationUs = frames.endUs - (frames.timesUs[0] ?? 0);
  const pixelFormat = stream.pix_fmt ?? 'unknown';
  return {
    streamIndex: stream.index,
    codec: stream.codec_name ?? 'unknown',
    profile: stream.profile ?? null,
    level:
      stream.level !== undefined && stream.level > 0 ? writeLevel(stream.codec_name, stream.level) : null,
    pixelFormat,
    bitDepth: Number(/p(9|10|12|14|16)(?:le|be)?$/.exec(pixelFormat)?.[1] ?? 8),
    chroma: readChroma(pixelFormat),
    codedWidthPx,
    codedHeightPx,
    widthPx: isTurned ? codedHeightPx : shownWidth,
    heightPx: isTurned ? shownWidth : codedHeightPx,
    pixelAspect,
    rotationDegrees,
    frameCount: frames.timesUs.length,
    frameRate: rate,
    rateKind: kind,
    startUs: frames.timesUs[0] ?? 0,
    durationUs,
    color: {
      primaries: stream.color_primaries ?? null,
      transfer: stream.color_transfer ?? null,
      matrix: stream.color_space ?? null,
      range:
        stream.color_range === 'pc' || pixelFormat.startsWith('yuvj')
          ? 'full'
          : stream.color_range === 'tv'
            ? 'limited'
            : null,
    },
    hdr:
      stream.color_transfer === 'arib-std-b67' ? 'hlg' : stream.color_transfer === 'smpte2084' ? 'pq' : null,
    interlace: 'progressive',
    bitrateBps: durationUs > 0 ? Math.round((span.sizeBytes * 8e6) / durationUs) : 0,
  };
}

function describeSound(
  stream: RawStream,
  span: PacketSpan,
  originUs: number,
  pictureStartUs: number | null,
): SoundFacts {
  const startUs = (span.timesUs[0] ?? originUs) - originUs;
  const byPackets = span.endUs - originUs - startUs;
  const durationUs = Math.max(
    0,
    stream.duration !== undefined ? Math.max(Math.round(stream.duration * 1e6), byPackets) : byPackets,
  );
  const codec = stream.codec_name ?? 'unknown';
  return {
    streamIndex: stream.index,
    codec: codec.startsWith('pcm_') ? 'pcm' : codec,
    profile: stream.profile ?? null,
    channels: stream.channels ?? 1,
    layout: stream.channel_layout ?? null,
    rateHz: Number(stream.sample_rate ?? 48_000),
    startUs,
    startOffsetUs: pictureStartUs === null ? 0 : startUs - pictureStartUs,
    durationUs,
    bitrateBps: durationUs > 0 ? Math.round((span.sizeBytes * 8e6) / durationUs) : 0,
    loudnessLufs: null,
    loudnessRangeLu: null,
    truePeakDbtp: null,
    clippedCount: null,
  };
}

/** FFmpeg tells the display matrix counter-clockwise; facts tell how far to turn clockwise. */
function readRotation(stream: RawStream): VideoFacts['rotationDegrees'] {
  const raw =
    stream.side_data_list?.map((data) => data.rotation).find((rotation) => rotation !== undefined) ?? 0;
  const clockwise = (((Math.round(-raw / 90) * 90) % 360) + 360) % 360;
  return clockwise as VideoFacts['rotationDegrees'];
}

function readChroma(pixelFormat: string): VideoFacts['chroma'] {
  if (/^(yuvj?420|nv12|nv21|p010|yuva420)/.test(pixelFormat)) return '4:2:0';
  if (/^(yuvj?422|nv16|p210|uyvy|yuyv)/.test(pixelFormat)) return '4:2:2';
  if (/^(yuvj?444|yuva444)/.test(pixelFormat)) return '4:4:4';
  if (/^gray/.test(pixelFormat)) return '4:0:0';
  return /^(rgb|bgr|gbr|argb|rgba|pal8)/.test(pixelFormat) ? 'rgb' : 'other';
}

/** H.264 levels are stored times ten, HEVC times thirty (ITU-T H.264 A.3, H.265 A.4). */
function writeLevel(codec: string | undefined, level: number): string {
  if (codec === 'h264') return (level / 10).toFixed(1);
  return codec === 'hevc' ? (level / 30).toFixed(1) : String(level);
}

function readTags(
  probe: RawProbe,
): Pick<MediaFacts, 'captureTime' | 'locationPresent' | 'deviceSerialPresent'> {
  const all = [probe.format.tags ?? {}, ...probe.streams.map((stream) => stream.tags ?? {})];
  const find = (test: RegExp) =>
    all
      .flatMap((tags) => Object.entries(tags))
      .find(([name, value]) => test.test(name) && value.trim() !== '')?.[1];
  const rawTime = find(/^([a-z.]*creationdate|creation_time|date)$/i);
  return {
    captureTime: rawTime ? normaliseCaptureTime(rawTime) : null,
    locationPresent: find(/location|gps|©xyz|^xyz$/i) !== undefined,
    deviceSerialPresent: find(/serial/i) !== undefined,
  };
}
