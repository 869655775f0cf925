import type { FrameTimes, Rational } from '@apodix/core';

/** Rates that cameras and standards use (SMPTE ST 2036-1 and its halves and doubles). */
const COMMON_RATES: readonly Rational[] = [
  [12, 1],
  [12_500, 1000],
  [15_000, 1001],
  [15, 1],
  [24_000, 1001],
  [24, 1],
  [25, 1],
  [30_000, 1001],
  [30, 1],
  [48_000, 1001],
  [48, 1],
  [50, 1],
  [60_000, 1001],
  [60, 1],
  [90, 1],
  [100, 1],
  [120_000, 1001],
  [120, 1],
  [240_000, 1001],
  [240, 1],
].map(([numerator, denominator]) => ({ numerator: numerator ?? 1, denominator: denominator ?? 1 }));

export interface MeasuredRate {
  readonly rate: Rational;
  readonly kind: 'constant' | 'variable';
}

/**
 * A last frame that is on screen for longer than so many others is held: the rate is not constant to the end.
 */
const HELD_FRAMES = 1.5;

/**
 * Tells from frame times alone whether the rate is constant and what it is (headers lie). Constant: every gap
 * lies within 1.1 ms (rounding of coarse time bases) plus 3 % of the usual one, and the last frame is not
 * held.
 */
export function measureFrameRate(frames: FrameTimes, headerRate: Rational | null): MeasuredRate {
  const { rate, kind } = measureGaps(frames.timesUs, headerRate);
  const lastUs = frames.endUs - (frames.timesUs.at(-1) ?? 0);
  const isHeld = lastUs > (HELD_FRAMES * rate.denominator * 1e6) / rate.numerator;
  return { rate, kind: isHeld ? 'variable' : kind };
}

function measureGaps(timesUs: readonly number[], headerRate: Rational | null): MeasuredRate {
  const gaps = timesUs.slice(1).map((timeUs, index) => timeUs - (timesUs[index] ?? 0));
  if (gaps.length === 0) return { rate: headerRate ?? { numerator: 25, denominator: 1 }, kind: 'constant' };
  const sorted = [...gaps].sort((left, right) => left - right);
  const median = sorted[Math.floor(sorted.length / 2)] ?? 40_000;
  const mean = ((timesUs.at(-1) ?? 0) - (timesUs[0] ?? 0)) / gaps.length;
  const tolerance = 1100 + median * 0.03;
  const isConstant =
    gaps.every((gap) => Math.abs(gap - median) <= tolerance) && Math.abs(mean - median) <= tolerance;
  if (isConstant) {
    const rate = snapRate(1e6 / mean, 0.0004 + 1100 / Math.max(1, mean * gaps.length));
    // A rate that drifts away from the frames by half of one over the whole take is not its rate.
    const driftUs = Math.abs(gaps.length * (mean - (rate.denominator * 1e6) / rate.numerator));
    return { rate: driftUs <= median / 2 ? rate : snapRate(1e6 / mean, 0), kind: 'constant' };
  }
  return { rate: snapRate(1e6 / Math.max(1, median), 0.03), kind: 'variable' };
}

/** The common rate within `tolerance` (a share), else the rate itself in thousandths. */
function snapRate(rate: number, tolerance: number): Rational {
  const near = COMMON_RATES.map((common) => ({
    common,
    off: Math.abs(rate / (common.numerator / common.denominator) - 1),
  })).sort((left, right) => left.off - right.off)[0];
  if (near && near.off <= tolerance) return near.common;
  return { numerator: Math.max(1, Math.round(rate * 1000)), denominator: 1000 };
}

/** Reads `30000/1001`; null for `0/0`. */
export function parseRational(text: string | undefined): Rational | null {
  const match = /^(\d+)[/:](\d+)$/.exec(text ?? '');
  const [numerator, denominator] = [Number(match?.[1]), Number(match?.[2])];
  return numerator > 0 && denominator > 0 ? { numerator, denominator } : null;
}
