import { predictDurationUs, type Plan } from '@apodix/core';

export interface BytePart {
  readonly label: string;
  readonly bytes: number;
}

/**
 * Where the bytes of a file go: picture, sound, and the wrapping (tables that tell where each frame lies).
 * `totalBytes` is the made file's own size.
 */
export function divideBytes(plan: Plan, totalBytes: number | null): BytePart[] {
  const total = totalBytes ?? plan.prediction.bytes;
  if (plan.kind !== 'video') return [{ label: plan.kind === 'photo' ? 'picture' : 'sound', bytes: total }];
  const seconds = (predictDurationUs(plan) ?? 0) / 1e6;
  const sound = ((plan.sound?.bitrateBps ?? 0) * seconds) / 8;
  const planned =
    plan.method === 'code'
      ? plan.prediction.bytes - (plan.rate.videoBps * seconds) / 8 - sound
      : total * 0.002;
  const wrapping = Math.max(0, Math.min(planned, total * 0.2));
  return [
    { label: 'picture', bytes: Math.max(0, total - sound - wrapping) },
    ...(plan.sound ? [{ label: 'sound', bytes: sound }] : []),
    { label: 'wrapping', bytes: wrapping },
  ];
}
