import type { FitSamples, VideoPlan } from '@apodix/core';

/** Seconds that starting, wrapping and proving take besides the coding itself. */
const FIXED_S = 3;
/** Proving decodes all of it once more. */
const PROVING_SHARE = 0.2;

/** Seconds that making a video takes on this machine, by what its samples took; null without samples. */
export function estimateMakeSeconds(plan: VideoPlan, samples: FitSamples | null): number | null {
  if (plan.method !== 'code') return FIXED_S + plan.prediction.bytes / 30_000_000;
  if (!samples) return null;
  const megapixels = (plan.cut.frameCount * plan.cut.widthPx * plan.cut.heightPx) / 1e6;
  return FIXED_S + megapixels * samples.secondsPerMegapixel * (1 + PROVING_SHARE) * 1.3;
}

/**
 * Seconds that sending takes over a line of so many megabits a second, with a tenth for what the line itself
 * says.
 */
export function estimateSendSeconds(bytes: number, megabitsPerSecond: number): number {
  return (bytes * 8 * 1.1) / (Math.max(0.01, megabitsPerSecond) * 1e6);
}

/** `about 40 s`, `about 3 min`, `about 2 h`. */
export function describeSeconds(seconds: number): string {
  if (seconds < 90)
    return `about ${Math.max(1, seconds < 20 ? Math.round(seconds) : Math.round(seconds / 5) * 5)} s`;
  if (seconds < 5400) return `about ${Math.round(seconds / 60)} min`;
  return `about ${Math.round(seconds / 360) / 10} h`;
}
