import type { Biquad } from './k-weighting.ts';

/** What is taken out of a sound: below the lowest notes, and the hum of the mains. */
export interface SoundMending {
  readonly isRumbleCut: boolean;
  readonly humHz: 50 | 60 | null;
}

/** Below this are steps, wind and a desk that is touched; the lowest string of a double bass has 41 Hz. */
export const RUMBLE_HZ = 38;
/** Harmonics of the mains that are taken out, and how narrowly. */
export const HUM_HARMONICS = 8;
export const HUM_Q = 25;

/** Whether a sound is mended at all. */
export function isMended({ isRumbleCut, humHz }: SoundMending): boolean {
  return isRumbleCut || humHz !== null;
}

/**
 * The filters that mending is, at a rate: a high pass of fourth order (two Butterworth sections in a row) and
 * one notch for each harmonic (R. Bristow-Johnson, Cookbook formulae for audio EQ biquad filters).
 */
export function designMending({ isRumbleCut, humHz }: SoundMending, rateHz: number): Biquad[] {
  const sections: Biquad[] = [];
  if (isRumbleCut) for (const q of [0.5412, 1.3066]) sections.push(designHighPass(RUMBLE_HZ, q, rateHz));
  if (humHz !== null)
    for (let harmonic = 1; harmonic <= HUM_HARMONICS; harmonic += 1)
      if (humHz * harmonic < rateHz * 0.45) sections.push(designNotch(humHz * harmonic, HUM_Q, rateHz));
  return sections;
}

function designHighPass(frequencyHz: number, q: number, rateHz: number): Biquad {
  const w = (2 * Math.PI * frequencyHz) / rateHz;
  const alpha = Math.sin(w) / (2 * q);
  const a0 = 1 + alpha;
  const b = (1 + Math.cos(w)) / 2 / a0;
  return { b0: b, b1: -2 * b, b2: b, a1: (-2 * Math.cos(w)) / a0, a2: (1 - alpha) / a0 };
}

function designNotch(frequencyHz: number, q: number, rateHz: number): Biquad {
  const w = (2 * Math.PI * frequencyHz) / rateHz;
  const alpha = Math.sin(w) / (2 * q);
  const a0 = 1 + alpha;
  const b1 = (-2 * Math.cos(w)) / a0;
  return { b0: 1 / a0, b1, b2: 1 / a0, a1: b1, a2: (1 - alpha) / a0 };
}

/** A sound through filters, one after another. */
export function filterSound(samples: ArrayLike<number>, sections: readonly Biquad[]): Float32Array {
  const out = Float32Array.from(samples);
  for (const { b0, b1, b2, a1, a2 } of sections) {
    let [z1, z2] = [0, 0];
    for (let index = 0; index < out.length; index += 1) {
      const value = out[index] as number;
      const made = b0 * value + z1;
      z1 = b1 * value - a1 * made + z2;
      z2 = b2 * value - a2 * made;
      out[index] = made;
    }
  }
  return out;
}
