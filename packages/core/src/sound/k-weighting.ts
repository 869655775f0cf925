/** Coefficients of a second-order filter, normalised so that a0 is 1. */
export interface Biquad {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/**
 * Both filters of K-weighting (ITU-R BS.1770-4 annex 1) for any sampling rate. The standard gives
 * coefficients for 48 kHz; these analogue parameters reproduce them and are brought to other rates by the
 * bilinear transform.
 */
export function designKWeighting(rateHz: number): readonly [Biquad, Biquad] {
  return [designShelf(rateHz), designHighPass(rateHz)];
}

const SHELF = { frequencyHz: 1681.974450955533, gainDb: 3.999843853973347, q: 0.7071752369554196 };
const HIGH_PASS = { frequencyHz: 38.13547087602444, q: 0.5003270373238773 };
const SHELF_EXPONENT = 0.4996667741545416;

function designShelf(rateHz: number): Biquad {
  const k = Math.tan((Math.PI * SHELF.frequencyHz) / rateHz);
  const high = 10 ** (SHELF.gainDb / 20);
  const band = high ** SHELF_EXPONENT;
  const a0 = 1 + k / SHELF.q + k * k;
  return {
    b0: (high + (band * k) / SHELF.q + k * k) / a0,
    b1: (2 * (k * k - high)) / a0,
    b2: (high - (band * k) / SHELF.q + k * k) / a0,
    a1: (2 * (k * k - 1)) / a0,
    a2: (1 - k / SHELF.q + k * k) / a0,
  };
}

function designHighPass(rateHz: number): Biquad {
  const k = Math.tan((Math.PI * HIGH_PASS.frequencyHz) / rateHz);
  const a0 = 1 + k / HIGH_PASS.q + k * k;
  return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / HIGH_PASS.q + k * k) / a0 };
}
