import type { Clearness } from '../picture/judge-detail.ts';
import type { SizePx } from '../geometry/turn.ts';
import { readRate } from '../media/facts.ts';
import { tightenMax, tightenMin, type Ceilings } from './ceilings.ts';
import type { LimitOf } from './limit.ts';
import type { Refusal } from './refusal.ts';
import {
  byMachine,
  byPerson,
  checkNumber,
  leavesOpen,
  neverRefuses,
  type LimitRow,
  type Verdict,
} from './row.ts';
import type { PieceInView, Subject } from './subject.ts';
import { describeBounds, trimNumber, writeLines, writePixels, writeRate } from './words.ts';

const hasPicture = (subject: Subject) => subject.mediaKind !== 'sound';
const standsStill = (subject: Subject) => subject.mediaKind === 'photo' || subject.mediaKind === 'document';

/**
 * The edge that a limit speaks of. Lines are the shorter edge: a portrait video of 1080×1920 has 1080 lines.
 */
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
const edgeKeys = {
  height: 'heightPx',
  width: 'widthPx',
  long: 'longEdgePx',
  short: 'shortEdgePx',
  lines: 'shortEdgePx',
} as const;

function steerEdge(
  ceilings: Ceilings,
  key: (typeof edgeKeys)[keyof typeof edgeKeys],
  bounds: { readonly min: number | null; readonly max: number | null },
): Ceilings {
  const max = tightenMax(ceilings.size[key] ?? null, bounds.max);
  return {
    ...ceilings,
    size: max === null ? ceilings.size : { ...ceilings.size, [key]: max },
    floors: { ...ceilings.floors, [key]: Math.max(ceilings.floors[key], bounds.min ?? 0) },
  };
}

/** Enlarging would add no detail. */
function refuseSmall(availablePx: number, wantedPx: number): Refusal | null {
  if (availablePx >= wantedPx) return null;
  return {
    reason: 'picture-too-small',
    availablePx,
    wantedPx,
    message:
      `The picture has ${availablePx} px where at least ${wantedPx} px are wanted. ` +
      'Enlarging would add no detail: record or photograph it again at a higher setting.',
  };
}

export const pictureEdgeRow: LimitRow<'picture-edge'> = {
  kind: 'picture-edge',
  scope: 'file',
  judgedBy: 'machine',
  label: (limit) => edgeLabels[limit.edge],
  wanted: (limit) => describeBounds(limit.min, limit.max, limit.edge === 'lines' ? writeLines : writePixels),
  concerns: hasPicture,
  check: (limit, subject) => {
    const { widthPx, heightPx } = subject;
    const value = widthPx === null || heightPx === null ? null : readEdge(limit.edge, widthPx, heightPx);
    const verdict = checkNumber({
      value,
      min: limit.min,
      max: limit.max,
      unit: 'px',
      write: limit.edge === 'lines' ? writeLines : writePixels,
      method: 'decoded picture, upright',
      over: 'too large',
      under: 'too small',
    });
    return limit.edge === 'lines' && value !== null
      ? { ...verdict, figure: `${widthPx}×${heightPx}` }
      : verdict;
  },
  steer: (limit, ceilings) => steerEdge(ceilings, edgeKeys[limit.edge], limit),
  refuse: (limit, { size }) =>
    size && refuseSmall(readEdge(limit.edge, size.widthPx, size.heightPx), Math.ceil(limit.min ?? 0)),
  fix: (limit, subject) => {
    const value = readEdge(limit.edge, subject.widthPx ?? 0, subject.heightPx ?? 0);
    return limit.max !== null && value > limit.max
      ? byMachine('Make the picture smaller.')
      : byPerson('Enlarging would add no detail: record or photograph it again at a higher setting.');
  },
};

/** Proportions may be off by this share: edges are whole, and even, points. */
const ASPECT_ROOM = 0.01;
const measureAspectOff = (size: SizePx, wanted: number) =>
  Math.abs(size.widthPx / size.heightPx / wanted - 1);

export const aspectRow: LimitRow<'aspect'> = {
  kind: 'aspect',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Proportions',
  wanted: (limit) => `${limit.width}:${limit.height}`,
  concerns: hasPicture,
  check: (limit, subject) => {
    const method = 'width by height of the decoded picture, within 1 %';
    const { widthPx, heightPx } = subject;
    if (!widthPx || !heightPx) return { state: 'unknown', figure: null, method, reason: 'not known yet' };
    const off = measureAspectOff({ widthPx, heightPx }, limit.width / limit.height);
    return {
      state: off <= ASPECT_ROOM ? 'met' : 'short',
      figure: `${widthPx}×${heightPx}`,
      value: widthPx / heightPx,
      unit: 'ratio',
      margin: ASPECT_ROOM - off,
      method,
      reason: off <= ASPECT_ROOM ? 'the wanted proportions' : `off by ${trimNumber(off * 100, 1)} %`,
    };
  },
  steer: leavesOpen,
  refuse: (limit, { size }) => {
    if (!size || measureAspectOff(size, limit.width / limit.height) <= ASPECT_ROOM) return null;
    return {
      reason: 'cannot-be-changed',
      limitId: limit.id,
      message:
        `The picture is ${size.widthPx}×${size.heightPx}; ${limit.width}:${limit.height} is wanted. ` +
        'Record or crop it in these proportions, or ask whether bars at the edges are taken.',
    };
  },
  fix: () => byPerson('Record or crop it in the wanted proportions.'),
};

const heldWords = { landscape: 'sideways', portrait: 'upright', square: 'square' } as const;
const findHeld = ({ widthPx, heightPx }: SizePx) =>
  widthPx > heightPx ? 'landscape' : widthPx < heightPx ? 'portrait' : 'square';

export const orientationRow: LimitRow<'orientation'> = {
  kind: 'orientation',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Held',
  wanted: (limit) => heldWords[limit.wanted],
  concerns: hasPicture,
  check: (limit, subject) => {
    const method = 'width against height, after turning';
    const { widthPx, heightPx } = subject;
    if (!widthPx || !heightPx) return { state: 'unknown', figure: null, method, reason: 'not known yet' };
    const found = findHeld({ widthPx, heightPx });
    const isMet = found === limit.wanted;
    return {
      state: isMet ? 'met' : 'short',
      figure: heldWords[found],
      method,
      reason: isMet ? 'held as wanted' : `it is ${heldWords[found]}`,
    };
  },
  steer: leavesOpen,
  refuse: (limit, { size }) => {
    if (!size || findHeld(size) === limit.wanted) return null;
    const help =
      limit.wanted === 'square'
        ? 'Crop it to a square, or record it again.'
        : 'Turn it in Shape if it lies on its side; otherwise record it again.';
    return {
      reason: 'cannot-be-changed',
      limitId: limit.id,
      message: `It was filmed ${heldWords[findHeld(size)]} and is wanted ${heldWords[limit.wanted]}. ${help}`,
    };
  },
  fix: () => byPerson('Turn it in Shape if it lies on its side; otherwise record it again the other way.'),
};

/** 29.97 stands for 30: the share by which rates of television and of cameras differ (1000/1001). */
export const RATE_ROOM = 0.0011;

export const frameRateRow: LimitRow<'frame-rate'> = {
  kind: 'frame-rate',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Pictures a second',
  wanted: (limit) => describeBounds(limit.min, limit.max, writeRate),
  concerns: (subject) => subject.mediaKind === 'video',
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
      tolerance: (limit.max ?? limit.min ?? 0) * RATE_ROOM,
    }),
  steer: (limit, ceilings) => ({
    ...ceilings,
    minFrameRate: tightenMin(ceilings.minFrameRate, limit.min),
    maxFrameRate: tightenMax(ceilings.maxFrameRate, limit.max),
  }),
  refuse: (limit, { facts }) => {
    const rate = facts.video ? readRate(facts.video.frameRate) : null;
    if (rate === null || limit.min === null || rate >= limit.min * (1 - RATE_ROOM)) return null;
    return {
      reason: 'cannot-be-changed',
      limitId: limit.id,
      message:
        `It was filmed with ${writeRate(rate)}; at least ${writeRate(limit.min)} are wanted. ` +
        'Set the camera to a higher frame rate and record again.',
    };
  },
  fix: (limit, subject) =>
    limit.max !== null && (subject.frameRate ?? 0) > limit.max
      ? byMachine('Leave out frames evenly.')
      : byPerson('Set the camera to a higher frame rate and record again.'),
};

const MM_PER_INCH = 25.4;

/** Least long and short edge in points for a resolution on a paper; null where its size was not told. */
function readPaper(limit: LimitOf<'print-resolution'>): { longPx: number; shortPx: number } | null {
  const { paperWidthMm, paperHeightMm } = limit;
  if (paperWidthMm === null || paperHeightMm === null) return null;
  const edges = [paperWidthMm, paperHeightMm];
  return {
    longPx: (Math.max(...edges) / MM_PER_INCH) * limit.minDpi,
    shortPx: (Math.min(...edges) / MM_PER_INCH) * limit.minDpi,
  };
}

export const printResolutionRow: LimitRow<'print-resolution'> = {
  kind: 'print-resolution',
  scope: 'file',
  judgedBy: 'either',
  label: () => 'Print resolution',
  wanted: (limit) => {
    const { paperWidthMm, paperHeightMm } = limit;
    if (paperWidthMm === null || paperHeightMm === null) return `at least ${trimNumber(limit.minDpi, 0)} dpi`;
    const [width, height] = [paperWidthMm, paperHeightMm].map((edge) => trimNumber(edge, 0));
    return `at least ${trimNumber(limit.minDpi, 0)} dpi at ${width}×${height} mm`;
  },
  concerns: standsStill,
  check: (limit, subject) => {
    const paper = readPaper(limit);
    if (!paper)
      return {
        state: 'unknown',
        figure: null,
        method: 'pixels by the paper size',
        reason: 'how large the piece is was not told: see for yourself',
      };
    const { longPx, shortPx } = paper;
    const { widthPx, heightPx } = subject;
    const share =
      widthPx && heightPx
        ? Math.min(Math.max(widthPx, heightPx) / longPx, Math.min(widthPx, heightPx) / shortPx)
        : null;
    return checkNumber({
      value: share === null ? null : share * limit.minDpi,
      min: limit.minDpi,
      max: null,
      unit: 'dpi',
      write: (dpi) => `${Math.floor(dpi)} dpi`,
      method: 'pixels by the paper size, the lower of both edges',
      over: 'too fine',
      under: 'too coarse',
      tolerance: 1e-6,
    });
  },
  steer: (limit, ceilings) => {
    const paper = readPaper(limit);
    if (!paper) return ceilings;
    const { longPx, shortPx } = paper;
    const long = steerEdge(ceilings, 'longEdgePx', { min: Math.ceil(longPx - 1e-6), max: null });
    return steerEdge(long, 'shortEdgePx', { min: Math.ceil(shortPx - 1e-6), max: null });
  },
  refuse: (limit, { size }) => {
    const paper = readPaper(limit);
    if (!size || !paper) return null;
    const { longPx, shortPx } = paper;
    const edges = [size.widthPx, size.heightPx];
    return (
      refuseSmall(Math.max(...edges), Math.ceil(longPx - 1e-6)) ??
      refuseSmall(Math.min(...edges), Math.ceil(shortPx - 1e-6))
    );
  },
  fix: () => byPerson('Photograph it again from nearer or at a higher setting.'),
};

export const wholePieceRow: LimitRow<'whole-piece'> = {
  kind: 'whole-piece',
  scope: 'file',
  judgedBy: 'either',
  label: () => 'Whole piece in view',
  wanted: () => 'all edges inside',
  concerns: standsStill,
  check: (_limit, { pieceInView }) => judgeWhole(pieceInView ?? null),
  steer: leavesOpen,
  refuse: neverRefuses,
  fix: () => byPerson('Photograph it again from further away.'),
};

function judgeWhole(pieceInView: PieceInView): Verdict {
  const method = 'the four sides of the piece, as they were found in the photograph';
  if (pieceInView === 'whole')
    return { state: 'met', figure: 'four corners', method, reason: 'all four sides are in the picture' };
  if (pieceInView === 'at-border')
    return {
      state: 'person',
      figure: null,
      method,
      reason: 'a side of it lies at the border of the picture: look whether it is cut off',
    };
  return {
    state: 'person',
    figure: null,
    method: 'left to a person',
    reason: 'look for yourself: are all edges inside?',
  };
}

export const sharpRow: LimitRow<'sharp'> = {
  kind: 'sharp',
  scope: 'file',
  judgedBy: 'either',
  label: () => 'Sharp enough',
  wanted: () => 'in focus',
  concerns: hasPicture,
  check: (_limit, { blur, clearness, mediaKind }) =>
    judgeSharp(mediaKind === 'photo' ? (blur ?? null) : null, clearness ?? null),
  steer: leavesOpen,
  refuse: neverRefuses,
  fix: () => byPerson('Hold the camera still and photograph it again.'),
};

/** Blur at screen size (`measureBlur`): edges are clear up to the one, and gone from the other on. */
const SHARP_BLUR = { clear: 0.4, gone: 0.6 } as const;

function judgeSharp(blur: number | null, clearness: Clearness | null): Verdict {
  if (blur === null)
    return {
      state: 'person',
      figure: null,
      method: 'left to a person',
      reason: 'look for yourself: is it in focus?',
    };
  const base = {
    figure: `blur ${blur.toFixed(2)}`,
    value: blur,
    unit: 'share',
    margin: SHARP_BLUR.gone - blur,
    method: 'how much of its edges is left after a blur, at screen size',
  };
  const isSomewhereClear = clearness === 'clear' || clearness === 'partly';
  // What is soft by itself has few clear edges; what was not held still has none.
  if (blur > SHARP_BLUR.gone && isSomewhereClear)
    return {
      ...base,
      state: 'person',
      reason: 'soft as a whole, though some edges are clear: look for yourself',
    };
  if (clearness === 'partly')
    return {
      ...base,
      state: 'person',
      reason: 'sharp in some places only: look whether the piece is in focus',
    };
  if (blur > SHARP_BLUR.gone) return { ...base, state: 'short', reason: 'blurred: no edge in it is clear' };
  if (blur <= SHARP_BLUR.clear) return { ...base, state: 'met', reason: 'its edges are clear' };
  return { ...base, state: 'person', reason: 'soft: look for yourself whether it is in focus' };
}
