import { containerTable } from '../media/containers.ts';
import { parseWantedPattern } from '../naming/pattern.ts';
import { byMachine, byPerson, checkNumber, type LimitRow } from './row.ts';
import type { Subject } from './subject.ts';
import {
  describeBounds,
  formatSigned,
  joinWords,
  listContainers,
  trimNumber,
  writeBytes,
  writeLines,
  writeLufs,
  writePixels,
  writeRate,
  writeUs,
} from './words.ts';
import type { LimitOf } from './limit.ts';

const isAlways = () => true;
const hasPicture = (subject: Subject) => subject.mediaKind !== 'sound';
const isMoving = (subject: Subject) => subject.mediaKind === 'video';
const isTimed = (subject: Subject) => subject.mediaKind !== 'photo';

export const formatRow: LimitRow<'format'> = {
  kind: 'format',
  scope: 'file',
  label: () => 'Format',
  wanted: (limit) =>
    [
      limit.wanted.length ? listContainers(limit.wanted) : '',
      limit.refused.length ? `not ${listContainers(limit.refused)}` : '',
    ]
      .filter(Boolean)
      .join(', ') || 'any',
  concerns: isAlways,
  check: (limit, subject) => {
    const isWanted = limit.wanted.length === 0 || limit.wanted.includes(subject.container);
    const isRefused = limit.refused.includes(subject.container);
    const { label } = containerTable[subject.container];
    const state = isWanted && !isRefused ? 'met' : 'short';
    return {
      state,
      figure: label,
      method: 'signature bytes of the file',
      reason: state === 'met' ? 'the wanted kind of file' : `${label} is not what is wanted`,
    };
  },
  fix: (limit) => byMachine(`Convert it to ${listContainers(limit.wanted.slice(0, 1)) || 'another format'}.`),
};

function buildCodecRow<K extends 'video-codec' | 'sound-codec'>(
  kind: K,
  label: string,
  read: (subject: Subject) => string | null,
  concerns: (subject: Subject) => boolean,
): LimitRow<K> {
  const list = (limit: LimitOf<K>) =>
    limit as unknown as { readonly wanted: readonly string[]; readonly refused: readonly string[] };
  return {
    kind,
    scope: 'file',
    label: () => label,
    wanted: (limit) => {
      const { wanted, refused } = list(limit);
      return [
        joinWords(wanted.map(writeCodec), 'or'),
        refused.length ? `not ${joinWords(refused.map(writeCodec), 'or')}` : '',
      ]
        .filter(Boolean)
        .join(', ');
    },
    concerns,
    check: (limit, subject) => {
      const codec = read(subject);
      if (codec === null)
        return { state: 'unknown', figure: null, method: 'stream header', reason: 'no such stream' };
      const { wanted, refused } = list(limit);
      const isMet = (wanted.length === 0 || wanted.includes(codec)) && !refused.includes(codec);
      return {
        state: isMet ? 'met' : 'short',
        figure: writeCodec(codec),
        method: 'stream header',
        reason: isMet ? 'the wanted coding' : `${writeCodec(codec)} is not what is wanted`,
      };
    },
    fix: () => byMachine('Encode it again.'),
  };
}

export function writeCodec(codec: string): string {
  const names: Record<string, string> = {
    h264: 'H.264',
    hevc: 'HEVC',
    aac: 'AAC',
    vp8: 'VP8',
    vp9: 'VP9',
    av1: 'AV1',
    mp3: 'MP3',
    opus: 'Opus',
    flac: 'FLAC',
    vorbis: 'Vorbis',
    pcm: 'PCM',
    prores: 'ProRes',
    mjpeg: 'Motion JPEG',
    mpeg4: 'MPEG-4',
    jpeg: 'JPEG',
    png: 'PNG',
    webp: 'WebP',
    tiff: 'TIFF',
    av01: 'AV1',
  };
  return names[codec] ?? codec;
}

export const videoCodecRow = buildCodecRow(
  'video-codec',
  'Picture coding',
  (subject) => subject.videoCodec,
  isMoving,
);
export const soundCodecRow = buildCodecRow(
  'sound-codec',
  'Sound coding',
  (subject) => subject.soundCodec,
  (subject) => subject.hasSound && isTimed(subject),
);

export const fileSizeRow: LimitRow<'file-size'> = {
  kind: 'file-size',
  scope: 'file',
  label: () => 'File size',
  wanted: (limit) => describeBounds(limit.minBytes, limit.maxBytes, writeBytes),
  concerns: isAlways,
  check: (limit, subject) =>
    checkNumber({
      value: subject.sizeBytes,
      min: limit.minBytes,
      max: limit.maxBytes,
      unit: 'byte',
      write: writeBytes,
      method: 'count of the bytes of the file',
      over: 'too big',
      under: 'too small',
    }),
  fix: (limit, subject) =>
    limit.maxBytes !== null && (subject.sizeBytes ?? Infinity) > limit.maxBytes
      ? byMachine('Compress it until it fits.')
      : byPerson('Check with your teacher: the file is smaller than was asked for.'),
};

/** An exact length may fall short by this much (a cut is made between frames and coding blocks); it is never exceeded. */
const EXACT_ROOM_US = 500_000;

export const lengthRow: LimitRow<'length'> = {
  kind: 'length',
  scope: 'file',
  label: () => 'Length',
  wanted: (limit) => {
    const [min, max] = readLengthBounds(limit);
    return `${limit.isAbout ? 'about, ' : ''}${describeBounds(min, max, writeUs)}`;
  },
  concerns: isTimed,
  check: (limit, subject) => {
    const [min, max] = readLengthBounds(limit);
    const isExact = !limit.isAbout && min !== null && min === max;
    return checkNumber({
      value: subject.durationUs,
      min: isExact ? min - EXACT_ROOM_US : min,
      max,
      unit: 'µs',
      write: writeUs,
      writeGap: (gap) => (gap < 100_000 ? `${trimNumber(gap / 1000, 1)} ms` : writeUs(gap)),
      method: 'longest stream, by its time stamps',
      over: 'too long',
      under: 'too short',
    });
  },
  fix: (limit, subject) => {
    const [, max] = readLengthBounds(limit);
    return max !== null && (subject.durationUs ?? 0) > max
      ? byMachine('Bring start and finish closer together.')
      : byPerson('Keep more of the take, or record a longer one.');
  },
};

/** "About" widens an exact length by a tenth on both sides. */
export function readLengthBounds(limit: LimitOf<'length'>): [number | null, number | null] {
  if (!limit.isAbout) return [limit.minUs, limit.maxUs];
  return [
    limit.minUs === null ? null : Math.round(limit.minUs * 0.9),
    limit.maxUs === null ? null : Math.round(limit.maxUs * 1.1),
  ];
}

/** The edge that a limit speaks of. Lines are the shorter edge: a portrait video of 1080×1920 has 1080 lines in this sense. */
export function readEdge(edge: LimitOf<'picture-edge'>['edge'], widthPx: number, heightPx: number): number {
  if (edge === 'width') return widthPx;
  if (edge === 'height') return heightPx;
  return edge === 'long' ? Math.max(widthPx, heightPx) : Math.min(widthPx, heightPx);
}

const edgeLabels = {
  height: 'Height',
  width: 'Width',
  long: 'Long edge',
  short: 'Short edge',
  lines: 'Picture',
} as const;

export const pictureEdgeRow: LimitRow<'picture-edge'> = {
  kind: 'picture-edge',
  scope: 'file',
  label: (limit) => edgeLabels[limit.edge],
  wanted: (limit) => describeBounds(limit.min, limit.max, limit.edge === 'lines' ? writeLines : writePixels),
  concerns: hasPicture,
  check: (limit, subject) => {
    const write = limit.edge === 'lines' ? writeLines : writePixels;
    const value =
      subject.widthPx === null || subject.heightPx === null
        ? null
        : readEdge(limit.edge, subject.widthPx, subject.heightPx);
    const verdict = checkNumber({
      value,
      min: limit.min,
      max: limit.max,
      unit: 'px',
      write,
      method: 'decoded picture, upright',
      over: 'too large',
      under: 'too small',
    });
    return limit.edge === 'lines' && value !== null
      ? { ...verdict, figure: `${subject.widthPx}×${subject.heightPx}` }
      : verdict;
  },
  fix: (limit, subject) => {
    const value = readEdge(limit.edge, subject.widthPx ?? 0, subject.heightPx ?? 0);
    return limit.max !== null && value > limit.max
      ? byMachine('Make the picture smaller.')
      : byPerson('Enlarging would add no detail: record or photograph it again at a higher setting.');
  },
};

export const aspectRow: LimitRow<'aspect'> = {
  kind: 'aspect',
  scope: 'file',
  label: () => 'Proportions',
  wanted: (limit) => `${limit.width}:${limit.height}`,
  concerns: hasPicture,
  check: (limit, subject) => {
    const method = 'width by height of the decoded picture, within 1 %';
    if (!subject.widthPx || !subject.heightPx)
      return { state: 'unknown', figure: null, method, reason: 'not known yet' };
    const ratio = subject.widthPx / subject.heightPx;
    const wanted = limit.width / limit.height;
    const deviation = Math.abs(ratio / wanted - 1);
    return {
      state: deviation <= 0.01 ? 'met' : 'short',
      figure: `${subject.widthPx}×${subject.heightPx}`,
      value: ratio,
      unit: 'ratio',
      margin: 0.01 - deviation,
      method,
      reason: deviation <= 0.01 ? 'the wanted proportions' : `off by ${trimNumber(deviation * 100, 1)} %`,
    };
  },
  fix: () => byPerson('Record or crop it in the wanted proportions.'),
};

export const orientationRow: LimitRow<'orientation'> = {
  kind: 'orientation',
  scope: 'file',
  label: () => 'Held',
  wanted: (limit) => ({ landscape: 'sideways', portrait: 'upright', square: 'square' })[limit.wanted],
  concerns: hasPicture,
  check: (limit, subject) => {
    const method = 'width against height, after turning';
    if (!subject.widthPx || !subject.heightPx)
      return { state: 'unknown', figure: null, method, reason: 'not known yet' };
    const found =
      subject.widthPx > subject.heightPx
        ? 'landscape'
        : subject.widthPx < subject.heightPx
          ? 'portrait'
          : 'square';
    const words = { landscape: 'sideways', portrait: 'upright', square: 'square' };
    return {
      state: found === limit.wanted ? 'met' : 'short',
      figure: words[found],
      method,
      reason: found === limit.wanted ? 'held as wanted' : `it is ${words[found]}`,
    };
  },
  fix: () => byPerson('Turn it in Shape if it lies on its side; otherwise record it again the other way.'),
};

export const frameRateRow: LimitRow<'frame-rate'> = {
  kind: 'frame-rate',
  scope: 'file',
  label: () => 'Pictures a second',
  wanted: (limit) => describeBounds(limit.min, limit.max, writeRate),
  concerns: isMoving,
  check: (limit, subject) =>
    checkNumber({
      value: subject.frameRate,
      min: limit.min,
      max: limit.max,
      unit: '1/s',
      write: writeRate,
      method: 'frame times',
      over: 'too many',
      under: 'too few',
      tolerance: (limit.max ?? limit.min ?? 0) * 0.0011,
    }),
  fix: (limit, subject) =>
    limit.max !== null && (subject.frameRate ?? 0) > limit.max
      ? byMachine('Leave out frames evenly.')
      : byPerson('Set the camera to a higher frame rate and record again.'),
};

const MM_PER_INCH = 25.4;
export const printResolutionRow: LimitRow<'print-resolution'> = {
  kind: 'print-resolution',
  scope: 'file',
  label: () => 'Print resolution',
  wanted: (limit) =>
    `at least ${trimNumber(limit.minDpi, 0)} dpi at ${trimNumber(limit.paperWidthMm, 0)}×${trimNumber(limit.paperHeightMm, 0)} mm`,
  concerns: (subject) => subject.mediaKind === 'photo',
  check: (limit, subject) => {
    const [paperLong, paperShort] = [
      Math.max(limit.paperWidthMm, limit.paperHeightMm),
      Math.min(limit.paperWidthMm, limit.paperHeightMm),
    ];
    const value =
      subject.widthPx && subject.heightPx
        ? Math.min(
            Math.max(subject.widthPx, subject.heightPx) / (paperLong / MM_PER_INCH),
            Math.min(subject.widthPx, subject.heightPx) / (paperShort / MM_PER_INCH),
          )
        : null;
    return checkNumber({
      value,
      min: limit.minDpi,
      max: null,
      unit: 'dpi',
      write: (dpi) => `${Math.floor(dpi)} dpi`,
      method: 'pixels by the paper size, the lower of both edges',
      over: 'too fine',
      under: 'too coarse',
    });
  },
  fix: () => byPerson('Photograph it again from nearer or at a higher setting.'),
};

export const soundPresentRow: LimitRow<'sound-present'> = {
  kind: 'sound-present',
  scope: 'file',
  label: () => 'Sound',
  wanted: (limit) => (limit.isWanted ? 'with sound' : 'without sound'),
  concerns: isTimed,
  check: (limit, subject) => ({
    state: subject.hasSound === limit.isWanted ? 'met' : 'short',
    figure: subject.hasSound ? 'with sound' : 'no sound',
    method: 'decoded sound stream',
    reason:
      subject.hasSound === limit.isWanted
        ? 'as wanted'
        : subject.hasSound
          ? 'it has sound'
          : 'it has no sound',
  }),
  fix: (limit) =>
    limit.isWanted ? byPerson('Check the microphone and record again.') : byMachine('Leave the sound out.'),
};

export const channelsRow: LimitRow<'channels'> = {
  kind: 'channels',
  scope: 'file',
  label: () => 'Channels',
  wanted: (limit) => ({ 1: 'mono', 2: 'stereo' })[limit.wanted] ?? String(limit.wanted),
  concerns: (subject) => isTimed(subject) && subject.hasSound,
  check: (limit, subject) =>
    checkNumber({
      value: subject.channels,
      min: limit.wanted,
      max: limit.wanted,
      unit: 'channel',
      write: (count) => ({ 1: 'mono', 2: 'stereo' })[count] ?? `${count} channels`,
      writeGap: String,
      method: 'decoded sound stream',
      over: 'too many',
      under: 'too few',
    }),
  fix: () => byMachine('Mix it to the wanted channels.'),
};

export const sampleRateRow: LimitRow<'sample-rate'> = {
  kind: 'sample-rate',
  scope: 'file',
  label: () => 'Sample rate',
  wanted: (limit) => describeBounds(limit.min, limit.max, (rate) => `${trimNumber(rate / 1000, 1)} kHz`),
  concerns: (subject) => isTimed(subject) && subject.hasSound,
  check: (limit, subject) =>
    checkNumber({
      value: subject.sampleRateHz,
      min: limit.min,
      max: limit.max,
      unit: 'Hz',
      write: (rate) => `${trimNumber(rate / 1000, 1)} kHz`,
      method: 'decoded sound stream',
      over: 'too high',
      under: 'too low',
    }),
  fix: () => byMachine('Convert the sample rate.'),
};

export const loudnessRow: LimitRow<'loudness'> = {
  kind: 'loudness',
  scope: 'file',
  label: () => 'Sound level',
  wanted: (limit) => describeBounds(limit.min, limit.max, writeLufs),
  concerns: (subject) => isTimed(subject) && subject.hasSound,
  check: (limit, subject) =>
    checkNumber({
      value: subject.loudnessLufs,
      min: limit.min,
      max: limit.max,
      unit: 'LUFS',
      write: writeLufs,
      writeGap: (gap) => `${formatSigned(gap)} LU`,
      method: 'integrated loudness, ITU-R BS.1770-4',
      over: 'too loud',
      under: 'too quiet',
      unknownReason: 'it is silent',
      scale: [Math.min(-40, (limit.min ?? -40) - 4), 0],
    }),
  fix: (_limit, subject) =>
    subject.loudnessLufs === null
      ? byPerson('There is nothing to hear: record again.')
      : byMachine('Set the level with one gain.'),
};

export const truePeakRow: LimitRow<'true-peak'> = {
  kind: 'true-peak',
  scope: 'file',
  label: () => 'Highest peak',
  wanted: (limit) => `at most ${formatSigned(limit.maxDbtp)} dBTP`,
  concerns: (subject) => isTimed(subject) && subject.hasSound,
  check: (limit, subject) =>
    checkNumber({
      value: subject.truePeakDbtp,
      min: null,
      max: limit.maxDbtp,
      unit: 'dBTP',
      write: (peak) => `${formatSigned(peak)} dBTP`,
      writeGap: (gap) => `${formatSigned(gap)} dB`,
      method: 'true peak, ITU-R BS.1770-4 annex 2',
      over: 'too high',
      under: 'too low',
      unknownReason: 'it is silent',
      scale: [-30, 3],
    }),
  fix: () => byMachine('Lower the whole sound a little.'),
};

export const noClippingRow: LimitRow<'no-clipping'> = {
  kind: 'no-clipping',
  scope: 'file',
  label: () => 'No clipping',
  wanted: () => 'true peak below 0 dBTP',
  concerns: (subject) => isTimed(subject) && subject.hasSound,
  check: (_limit, subject) =>
    checkNumber({
      value: subject.truePeakDbtp,
      min: null,
      max: 0,
      unit: 'dBTP',
      write: (peak) => `${formatSigned(peak)} dBTP`,
      writeGap: (gap) => `${formatSigned(gap)} dB`,
      method: 'true peak, ITU-R BS.1770-4 annex 2',
      over: 'too high',
      under: 'too low',
      unknownReason: 'it is silent',
      scale: [-30, 3],
    }),
  fix: () => byPerson('Record again with the microphone further away.'),
};

export const oneTakeRow: LimitRow<'one-take'> = {
  kind: 'one-take',
  scope: 'file',
  label: () => 'One unbroken take',
  wanted: () => 'no joins',
  concerns: isTimed,
  check: (_limit, subject) => {
    const method = 'spans kept by the recipe';
    if (subject.spanCount === null)
      return {
        state: 'unknown',
        figure: null,
        method,
        reason: 'only a person can tell whether the recording itself was joined',
      };
    const isMet = subject.spanCount === 1;
    return {
      state: isMet ? 'met' : 'short',
      figure: `${subject.spanCount} span${isMet ? '' : 's'}`,
      value: subject.spanCount,
      unit: 'span',
      margin: 1 - subject.spanCount,
      method,
      reason: isMet ? 'no joins inside the performance' : 'it was joined from parts',
    };
  },
  fix: () => byPerson('Use one take from start to finish.'),
};

export const wholePieceRow: LimitRow<'whole-piece'> = {
  kind: 'whole-piece',
  scope: 'file',
  label: () => 'Whole piece in view',
  wanted: () => 'all edges inside',
  concerns: (subject) => subject.mediaKind === 'photo',
  check: () => ({
    state: 'unknown',
    figure: null,
    method: 'not measured',
    reason: 'look for yourself: are all edges inside?',
  }),
  fix: () => byPerson('Photograph it again from further away.'),
};

export const sharpRow: LimitRow<'sharp'> = {
  kind: 'sharp',
  scope: 'file',
  label: () => 'Sharp enough',
  wanted: () => 'in focus',
  concerns: hasPicture,
  check: () => ({
    state: 'unknown',
    figure: null,
    method: 'not measured',
    reason: 'look for yourself: is it in focus?',
  }),
  fix: () => byPerson('Hold the camera still and photograph it again.'),
};

export const fileNameRow: LimitRow<'file-name'> = {
  kind: 'file-name',
  scope: 'file',
  label: () => 'File name',
  wanted: (limit) => limit.pattern,
  concerns: isAlways,
  check: (limit, subject) => {
    const method = 'name of the file, compared with the pattern';
    if (subject.fileName === null) return { state: 'unknown', figure: null, method, reason: 'not named yet' };
    const stem = subject.fileName.replace(/\.[^.]*$/, '');
    const isMet =
      subject.wantedName === null
        ? parseWantedPattern(limit.pattern).matches(stem)
        : stem.normalize('NFC') === subject.wantedName.normalize('NFC');
    return {
      state: isMet ? 'met' : 'short',
      figure: subject.fileName,
      method,
      reason: isMet ? 'named as wanted' : 'not named as wanted',
    };
  },
  fix: (_limit, subject) =>
    subject.wantedName === null
      ? byPerson('Rename it in Hand in: it holds a part that only you know.')
      : byMachine('Name it by the pattern.'),
};

export const locationRemovedRow: LimitRow<'location-removed'> = {
  kind: 'location-removed',
  scope: 'file',
  label: () => 'Place removed',
  wanted: () => 'no location inside',
  concerns: isAlways,
  check: (_limit, subject) => {
    const method = 'metadata of the file';
    if (subject.locationPresent === null)
      return { state: 'unknown', figure: null, method, reason: 'not known yet' };
    return {
      state: subject.locationPresent ? 'short' : 'met',
      figure: subject.locationPresent ? 'place inside' : 'none',
      method,
      reason: subject.locationPresent
        ? 'it tells where it was recorded'
        : 'no place and no device number inside',
    };
  },
  fix: () => byMachine('Leave out where it was recorded.'),
};
