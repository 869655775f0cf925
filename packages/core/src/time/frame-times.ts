import type { TimeRange } from './range.ts';

/**
 * The presentation times of a video's frames in microseconds from the start of the file, ascending.
 * `endUs` is where the last frame stops being shown.
 */
export interface FrameTimes {
  readonly timesUs: readonly number[];
  readonly endUs: number;
}

/**
 * The index of the frame on screen at `instantUs`: the last one whose time is not after it (0 before the
 * first).
 */
export function findFrameAt(frames: FrameTimes, instantUs: number): number {
  let low = 0;
  let high = frames.timesUs.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((frames.timesUs[middle] ?? 0) <= instantUs) low = middle;
    else high = middle - 1;
  }
  return Math.max(0, low);
}

/** The instant at which frame `index` starts to be shown; one past the last frame gives the end. */
export function findTimeOfFrame(frames: FrameTimes, index: number): number {
  if (index >= frames.timesUs.length) return frames.endUs;
  return frames.timesUs[Math.max(0, index)] ?? 0;
}

/**
 * The frames of a range as indices: first inclusive, last exclusive. A frame belongs to the range that its
 * start lies in.
 */
export function findFramesOfRange(frames: FrameTimes, range: TimeRange): { first: number; last: number } {
  return {
    first: findFirstNotBefore(frames, range.startUs),
    last: findFirstNotBefore(frames, range.finishUs),
  };
}

/**
 * Moves both ends of a range onto frame starts (the nearest; the finish may be the end of the last frame),
 * keeping at least one frame.
 */
export function snapRangeToFrames(frames: FrameTimes, range: TimeRange): TimeRange {
  const count = frames.timesUs.length;
  if (count === 0) return range;
  const first = Math.min(findNearestBoundary(frames, range.startUs), count - 1);
  const last = Math.max(findNearestBoundary(frames, range.finishUs), first + 1);
  return { startUs: findTimeOfFrame(frames, first), finishUs: findTimeOfFrame(frames, last) };
}

/**
 * The frame times of a constant-rate video, computed as `startUs + index × denominator / numerator` seconds.
 */
export function buildConstantFrameTimes(
  startUs: number,
  frameCount: number,
  rate: { numerator: number; denominator: number },
): FrameTimes {
  const at = (index: number) => startUs + Math.round((index * rate.denominator * 1_000_000) / rate.numerator);
  return { timesUs: Array.from({ length: frameCount }, (_, index) => at(index)), endUs: at(frameCount) };
}

function findFirstNotBefore(frames: FrameTimes, instantUs: number): number {
  let low = 0;
  let high = frames.timesUs.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((frames.timesUs[middle] ?? 0) < instantUs) low = middle + 1;
    else high = middle;
  }
  return low;
}

function findNearestBoundary(frames: FrameTimes, instantUs: number): number {
  const after = findFirstNotBefore(frames, instantUs);
  if (after === 0) return 0;
  const gapAfter = findTimeOfFrame(frames, after) - instantUs;
  const gapBefore = instantUs - findTimeOfFrame(frames, after - 1);
  return gapAfter <= gapBefore ? after : after - 1;
}
