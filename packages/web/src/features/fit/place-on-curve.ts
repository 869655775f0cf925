import type { MadeView } from '@apodix/core';

/**
 * Where a made file stands on the chart. The chart counts likeness at the size of the reference, the proof at
 * the file's own: the point is moved by what the file came out better or worse than promised.
 */
export function placeOnCurve({ plan, comparison }: Pick<MadeView, 'plan' | 'comparison'>): number {
  const measured = comparison?.picture?.ssimMean ?? 0;
  if (plan.kind !== 'video') return measured;
  const { ssim, ownSsim } = plan.prediction;
  return ssim === null || ownSsim === null ? measured : Math.min(1, ssim + measured - ownSsim);
}
