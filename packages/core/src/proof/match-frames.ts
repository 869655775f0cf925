import type { FrameSignatures } from '../series/evidence.ts';
import type { FrameTimes } from '../time/frame-times.ts';
import { findDivisor, findTimeOfOutput, type Timeline, type TimelineSource } from '../timeline/timeline.ts';
import { mapPoints, type Stance } from './orient.ts';

/** A frame that is not where it should be: `found` is the source frame that it shows. */
export interface MisplacedFrame {
  readonly output: number;
  readonly expected: number;
  readonly found: number;
}

/** What came of holding every frame of a made file against the source frame that the timeline names. */
export interface FrameMatch {
  /** Frames that both have and that were compared. */
  readonly compared: number;
  /**
   * Frames that differ from their neighbours by more than coding does, and so can be told apart from them.
   */
  readonly toldApart: number;
  readonly misplacedCount: number;
  readonly misplaced: readonly MisplacedFrame[];
  readonly unlikeCount: number;
  /** Frames that do not show what their source frame shows. */
  readonly unlike: readonly { readonly output: number; readonly correlation: number }[];
  /** Least correlation of a frame with its source frame; null where every picture is even. */
  readonly leastCorrelation: number | null;
  /** Contrast against the source, and shift of brightness in levels of 255, over all frames. */
  readonly contrast: number;
  readonly shiftLevels: number;
  /** Frames whose brightness or contrast alone is far from that of their source frame. */
  readonly offLevelCount: number;
}

export interface MatchInput {
  /** Signatures of each source, in the order of the recipe. */
  readonly sources: readonly FrameSignatures[];
  readonly timelineSources: readonly TimelineSource[];
  readonly made: FrameSignatures;
  readonly timeline: Timeline;
  readonly stance: Stance;
}

/**
 * Below this a frame does not show the same picture: coding alone hardly goes below 0.97, other pictures
 * below 0.8.
 */
export const LEAST_CORRELATION = 0.9;
/**
 * A picture whose points differ by less than this (standard deviation, levels) is even: it has no structure.
 */
const EVEN_LEVELS = 2;
/** Single frames may be brighter or darker by this much, or have this much less or more contrast. */
const MOST_FRAME_SHIFT = 14;
const CONTRAST_BOUNDS = [0.75, 1.3] as const;
/** Rounding to whole levels, in both pictures. */
const ROUNDING_LEVELS = 0.41;
/** So many times the noise must two frames lie apart for either to be told from the middle between them. */
const LEAST_DISTANCE = 5;
/**
 * A frame that lies this far along the way to a neighbour, and whose difference that explains down to this
 * share, is that neighbour. Coarse coding lags behind slow movement by half the way and more, but leaves more
 * unexplained.
 */
const SURE_SHARE = 0.8;
const SURE_REST = 0.25;
/** So many frames in a row whose middle one leans this far to the same side are all out of place. */
const RUN_FRAMES = 16;
const RUN_SHARE = 0.6;
const NEIGHBOURS = 3;
const MOST_LISTED = 12;
/**
 * How many frames are looked for far from their place, how far, and what makes another one clearly better.
 */
const SUSPECTS = 40;
const FAR_FRAMES = 240;
const LEAST_FAR_LEVELS = 1.2;
const FAR_SHARE = 0.3;

/** Holds every frame against the one that the timeline names, and against its neighbours. */
export function matchFrames(input: MatchInput): FrameMatch {
  const { made, timeline } = input;
  const readers = input.sources.map((source) => new FrameReader(source, input.stance));
  const madeReader = new FrameReader(made, { turnDegrees: 0, isMirrored: false });
  const compared = Math.min(timeline.frameCount, made.frameCount);
  const misplaced: MisplacedFrame[] = [];
  const unlike: { output: number; correlation: number }[] = [];
  const sums = { made: 0, source: 0, madeSource: 0, sourceSource: 0, count: 0 };
  let [toldApart, misplacedCount, unlikeCount, offLevelCount] = [0, 0, 0, 0];
  let leastCorrelation: number | null = null;
  const distances = new Float32Array(compared);
  const displaced = new Set<number>();
  const leansBefore = new Float32Array(compared).fill(NaN);
  const leansAfter = new Float32Array(compared).fill(NaN);
  let spanIndex = 0;
  for (let output = 0; output < compared; output += 1) {
    while (output >= (timeline.spans[spanIndex]?.lastOutput ?? Infinity)) spanIndex += 1;
    const reader = readers[timeline.spans[spanIndex]?.source ?? 0];
    if (!reader) throw new RangeError('Evidence of a source is missing.');
    const expected = timeline.sourceFrames[output] ?? 0;
    const [frame, target] = [madeReader.read(output), reader.read(expected)];
    const likeness = correlate(frame, target);
    if (isUnlike(frame, target, likeness)) {
      unlikeCount += 1;
      if (unlike.length < MOST_LISTED) unlike.push({ output, correlation: likeness });
      continue;
    }
    if (target.spread >= EVEN_LEVELS) {
      leastCorrelation = Math.min(leastCorrelation ?? 1, likeness);
      sums.madeSource += frame.spread * likeness * target.spread;
      sums.sourceSource += target.spread ** 2;
    }
    sums.made += frame.mean;
    sums.source += target.mean;
    sums.count += 1;
    if (isOffLevel(frame, target)) offLevelCount += 1;
    distances[output] = measureDistance(frame, target);
    const place = findPlace({ frame, target, reader, expected });
    if (place.isToldApart) toldApart += 1;
    leansBefore[output] = place.before;
    leansAfter[output] = place.after;
    if (place.found !== expected && !isAllowed(input, spanIndex, output, place.found)) {
      misplacedCount += 1;
      displaced.add(output);
      if (misplaced.length < MOST_LISTED) misplaced.push({ output, expected, found: place.found });
    }
  }
  const inRuns = new Set([...findRuns(leansBefore), ...findRuns(leansAfter)]);
  for (const output of [...inRuns, ...listSuspects(distances)]) {
    if (displaced.has(output)) continue;
    const index = timeline.spans.findIndex((span) => output < span.lastOutput);
    const reader = readers[timeline.spans[index]?.source ?? 0];
    const expected = timeline.sourceFrames[output] ?? 0;
    if (!reader) continue;
    const found = inRuns.has(output)
      ? expected + ((leansAfter[output] ?? 0) >= RUN_SHARE ? 1 : -1)
      : searchWidely(madeReader.read(output), reader, expected, distances[output] ?? 0);
    if (found === expected || isAllowed(input, index, output, found)) continue;
    displaced.add(output);
    misplacedCount += 1;
    if (misplaced.length < MOST_LISTED) misplaced.push({ output, expected, found });
  }
  const contrast = sums.sourceSource > 0 ? sums.madeSource / sums.sourceSource : 1;
  return {
    compared,
    toldApart,
    misplacedCount,
    misplaced,
    unlikeCount,
    unlike,
    leastCorrelation,
    contrast,
    shiftLevels: sums.count > 0 ? (sums.made - sums.source) / sums.count : 0,
    offLevelCount,
  };
}

interface Frame {
  /** Levels less their mean. */
  readonly points: Float32Array;
  readonly mean: number;
  /** Standard deviation in levels. */
  readonly spread: number;
}

/** Reads frames upright or as the recipe turns them; the last few are kept. */
class FrameReader {
  readonly #signatures: FrameSignatures;
  readonly #map: Int32Array;
  readonly #kept = new Map<number, Frame>();

  constructor(signatures: FrameSignatures, stance: Stance) {
    this.#signatures = signatures;
    this.#map = mapPoints(signatures, stance);
  }

  get frameCount(): number {
    return this.#signatures.frameCount;
  }

  read(index: number): Frame {
    const known = this.#kept.get(index);
    if (known) return known;
    const size = this.#map.length;
    const from = index * size;
    const points = new Float32Array(size);
    let sum = 0;
    for (let point = 0; point < size; point += 1) {
      const level = this.#signatures.luma[from + (this.#map[point] ?? 0)] ?? 0;
      points[point] = level;
      sum += level;
    }
    const mean = sum / size;
    let squares = 0;
    for (let point = 0; point < size; point += 1) {
      const value = (points[point] ?? 0) - mean;
      points[point] = value;
      squares += value * value;
    }
    const frame = { points, mean, spread: Math.sqrt(squares / size) };
    this.#kept.set(index, frame);
    if (this.#kept.size > 4 * NEIGHBOURS) this.#kept.delete(this.#kept.keys().next().value ?? -1);
    return frame;
  }
}

/** Normalised correlation of two pictures; 1 where both are even. */
function correlate(left: Frame, right: Frame): number {
  const isEven = left.spread < 1e-6 || right.spread < 1e-6;
  if (isEven) return left.spread < EVEN_LEVELS && right.spread < EVEN_LEVELS ? 1 : 0;
  let sum = 0;
  for (let point = 0; point < left.points.length; point += 1)
    sum += (left.points[point] ?? 0) * (right.points[point] ?? 0);
  return sum / left.points.length / (left.spread * right.spread);
}

function isUnlike(frame: Frame, target: Frame, likeness: number): boolean {
  if (target.spread < EVEN_LEVELS) return frame.spread > EVEN_LEVELS * 2.5;
  return likeness < LEAST_CORRELATION;
}

function isOffLevel(frame: Frame, target: Frame): boolean {
  if (Math.abs(frame.mean - target.mean) > MOST_FRAME_SHIFT) return true;
  const ratio = frame.spread / Math.max(target.spread, 1e-6);
  return target.spread >= EVEN_LEVELS * 3 && (ratio < CONTRAST_BOUNDS[0] || ratio > CONTRAST_BOUNDS[1]);
}

/** Root mean square of the difference of two pictures, in levels, their means taken off. */
function measureDistance(left: Frame, right: Frame): number {
  let sum = 0;
  for (let point = 0; point < left.points.length; point += 1)
    sum += ((left.points[point] ?? 0) - (right.points[point] ?? 0)) ** 2;
  return Math.sqrt(sum / left.points.length);
}

/**
 * Frames to look for far from their place: some all along, and those that differ from it more than most do.
 */
function listSuspects(distances: Float32Array): number[] {
  const step = Math.max(1, Math.floor(distances.length / SUSPECTS));
  const along = Array.from({ length: distances.length }, (_, output) => output).filter(
    (output) => output % step === 0,
  );
  const byDistance = [...distances.entries()].sort((left, right) => right[1] - left[1]);
  return [...new Set([...along, ...byDistance.slice(0, SUSPECTS).map(([output]) => output)])];
}

/** The source frame within some seconds that a frame shows clearly better than the expected one. */
function searchWidely(frame: Frame, reader: FrameReader, expected: number, distance: number): number {
  if (distance < LEAST_FAR_LEVELS) return expected;
  let [found, closest] = [expected, distance * FAR_SHARE];
  const first = Math.max(0, expected - FAR_FRAMES);
  const last = Math.min(reader.frameCount - 1, expected + FAR_FRAMES);
  for (let index = first; index <= last; index += 1) {
    const own = measureDistance(frame, reader.read(index));
    if (own < closest && Math.abs(index - expected) > NEIGHBOURS) [found, closest] = [index, own];
  }
  return found;
}

interface Place {
  /** The source frame that it surely is; the expected one where none is. */
  readonly found: number;
  readonly isToldApart: boolean;
  /** How far it leans to the frame before and to the frame after; NaN where that cannot be told. */
  readonly before: number;
  readonly after: number;
}

/**
 * Where along the way from the expected source frame to each neighbour a frame lies: projected onto the
 * difference of the two, with what is left over as noise. Two frames are told apart where half their
 * difference is several times what noise adds along that direction.
 */
function findPlace(input: {
  readonly frame: Frame;
  readonly target: Frame;
  readonly reader: FrameReader;
  readonly expected: number;
}): Place {
  const { frame, target, reader, expected } = input;
  let [found, closest] = [expected, Infinity];
  let [sidesSeen, sidesTold] = [0, 0];
  const leans = { before: NaN, after: NaN };
  for (let offset = -NEIGHBOURS; offset <= NEIGHBOURS; offset += 1) {
    const neighbour = expected + offset;
    if (offset === 0 || neighbour < 0 || neighbour >= reader.frameCount) continue;
    const lean = measureLean(frame, target, reader.read(neighbour));
    if (Math.abs(offset) === 1) {
      sidesSeen += 1;
      sidesTold += lean.isDistinct ? 1 : 0;
      if (lean.isDistinct) leans[offset < 0 ? 'before' : 'after'] = lean.share;
    }
    const isSure = Math.abs(1 - lean.share) <= 1 - SURE_SHARE && lean.restShare < SURE_REST;
    if (lean.isDistinct && isSure && Math.abs(1 - lean.share) < closest) {
      closest = Math.abs(1 - lean.share);
      found = neighbour;
    }
  }
  return { found, isToldApart: sidesSeen > 0 && sidesTold === sidesSeen, ...leans };
}

function measureLean(
  frame: Frame,
  target: Frame,
  other: Frame,
): { share: number; restShare: number; isDistinct: boolean } {
  const size = frame.points.length;
  let [along, apart, left] = [0, 0, 0];
  for (let point = 0; point < size; point += 1) {
    const base = target.points[point] ?? 0;
    const away = (other.points[point] ?? 0) - base;
    const moved = (frame.points[point] ?? 0) - base;
    along += moved * away;
    apart += away * away;
    left += moved * moved;
  }
  if (apart < 1e-9) return { share: 0, restShare: 1, isDistinct: false };
  const share = along / apart;
  const noise = Math.max(ROUNDING_LEVELS ** 2, (left - share * share * apart) / size);
  const rest = Math.max(0, left - 2 * along + apart);
  return {
    share,
    restShare: Math.sqrt(rest / Math.max(left, 1e-9)),
    isDistinct: 0.5 * Math.sqrt(apart) >= LEAST_DISTANCE * Math.sqrt(noise),
  };
}

/** Frames that lie in a run which leans to the same side; those that cannot be told apart are passed over. */
function findRuns(leans: Float32Array): Set<number> {
  const told = [...leans.entries()].filter(([, lean]) => !Number.isNaN(lean));
  const found = new Set<number>();
  for (let at = 0; at + RUN_FRAMES <= told.length; at += 1) {
    const run = told.slice(at, at + RUN_FRAMES);
    const sorted = run.map(([, lean]) => lean).sort((left, right) => left - right);
    if ((sorted[RUN_FRAMES >> 1] ?? 0) >= RUN_SHARE) for (const [output] of run) found.add(output);
  }
  return found;
}

/**
 * Where frames are picked by time, a neighbour that is on screen within half a frame of the place will do.
 */
function isAllowed(input: MatchInput, spanIndex: number, output: number, found: number): boolean {
  const { timeline } = input;
  const span = timeline.spans[spanIndex];
  const source = input.timelineSources[span?.source ?? 0];
  const { rate } = timeline;
  if (!span || !rate || !source?.frames) return false;
  const divisor = source.constantRate ? findDivisor(source.constantRate, rate) : null;
  if (divisor === 1) return false;
  const frameUs = (rate.denominator * 1e6) / rate.numerator;
  const startUs = span.sourceStartUs + findTimeOfOutput(timeline, output) - span.outputStartUs;
  const times: FrameTimes = source.frames;
  const foundUs = times.timesUs[found] ?? 0;
  const foundEndUs = times.timesUs[found + 1] ?? times.endUs;
  return foundUs <= startUs + frameUs * 1.5 && foundEndUs >= startUs - frameUs * 0.5;
}
