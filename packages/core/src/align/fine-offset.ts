import { transformFourier } from '../sound/fft.ts';
import { ALIGN_RATE_HZ } from './onset-bands.ts';

/** Samples of a stretch that is compared; a little over four seconds. */
export const STRETCH = 32_768;
const LOW_HZ = 120;
const HIGH_HZ = 3400;
/** How much of each frequency's strength is taken away: all of it would let mere noise speak as loudly. */
const WHITENING = 0.8;

export interface FineOffset {
  /** How many seconds later the first sound has it than was supposed. */
  readonly lagS: number;
  /** Height of the peak against what else there is, in its standard deviations. */
  readonly salience: number;
}

/**
 * How much later a stretch of `first` has the same as one of `second`, within `reachS` either way, between
 * samples: generalised cross-correlation with partly whitened phases (C. Knapp and G. Carter, 1976), which
 * gives the direct sound a sharp peak that the room's echo does not move. null where one of both is silent.
 */
export function findFineOffset(
  first: Float32Array,
  firstAt: number,
  second: Float32Array,
  secondAt: number,
  reachS: number,
): FineOffset | null {
  const n = STRETCH * 2;
  const [re, im] = [new Float64Array(n), new Float64Array(n)];
  let [firstPower, secondPower] = [0, 0];
  for (let at = 0; at < STRETCH; at += 1) {
    const fade = Math.sin((Math.PI * (at + 0.5)) / STRETCH);
    const [a, b] = [(first[firstAt + at] ?? 0) * fade, (second[secondAt + at] ?? 0) * fade];
    re[at] = a;
    im[at] = b;
    firstPower += a * a;
    secondPower += b * b;
  }
  if (firstPower < 1e-9 * STRETCH || secondPower < 1e-9 * STRETCH) return null;
  transformFourier(re, im);
  const [outRe, outIm] = [new Float64Array(n), new Float64Array(n)];
  const low = Math.round((LOW_HZ * n) / ALIGN_RATE_HZ);
  const high = Math.round((HIGH_HZ * n) / ALIGN_RATE_HZ);
  for (let k = low; k <= high; k += 1) {
    const mirror = n - k;
    // Both spectra from one transform of both sounds.
    const aRe = ((re[k] ?? 0) + (re[mirror] ?? 0)) / 2;
    const aIm = ((im[k] ?? 0) - (im[mirror] ?? 0)) / 2;
    const bRe = ((im[k] ?? 0) + (im[mirror] ?? 0)) / 2;
    const bIm = ((re[mirror] ?? 0) - (re[k] ?? 0)) / 2;
    const crossRe = aRe * bRe + aIm * bIm;
    const crossIm = aIm * bRe - aRe * bIm;
    const size = Math.sqrt(crossRe * crossRe + crossIm * crossIm);
    const scale = size > 0 ? size ** -WHITENING : 0;
    // The conjugate, so that the same transform goes back; both halves, so that the result is real.
    outRe[k] = crossRe * scale;
    outIm[k] = -crossIm * scale;
    outRe[mirror] = crossRe * scale;
    outIm[mirror] = crossIm * scale;
  }
  transformFourier(outRe, outIm);
  return readPeak(outRe, Math.min(STRETCH - 1, Math.round(reachS * ALIGN_RATE_HZ)));
}

function readPeak(correlation: Float64Array, reach: number): FineOffset {
  const n = correlation.length;
  const read = (lag: number) => correlation[(lag + n) % n] ?? 0;
  let [best, power] = [-reach, 0];
  for (let lag = -reach; lag <= reach; lag += 1) {
    if (read(lag) > read(best)) best = lag;
    power += read(lag) ** 2;
  }
  const [before, here, after] = [read(best - 1), read(best), read(best + 1)];
  const bend = before - 2 * here + after;
  const shift = bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (before - after)) / bend)) : 0;
  const deviation = Math.sqrt(power / (2 * reach + 1));
  return { lagS: (best + shift) / ALIGN_RATE_HZ, salience: deviation > 0 ? here / deviation : 0 };
}
