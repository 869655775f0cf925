import { correlate } from '../sound/fft.ts';
import { ONSET_RATE_HZ, type OnsetBands } from './onset-bands.ts';

/** Two sounds are held against each other over at least so much time, or half of the shorter one. */
const LEAST_OVERLAP_S = 5;
/** Places nearer than this to a better one are the same place. */
const APART_S = 0.3;

export interface CoarseOffset {
  /** What has to be added to times of the second sound. */
  readonly offsetUs: number;
  /** Normalised correlation of the beginnings there. */
  readonly score: number;
}

/**
 * Where the second sound may lie on the first, best first, to about a fiftieth of a second: the highest sums
 * over all bands of the correlation of their beginnings, each normalised by what overlaps.
 */
export function findCoarseOffsets(first: OnsetBands, second: OnsetBands, most: number): CoarseOffset[] {
  const least = Math.min(
    LEAST_OVERLAP_S * ONSET_RATE_HZ,
    Math.floor(Math.min(first.count, second.count) / 2),
  );
  if (least < ONSET_RATE_HZ / 2) return [];
  // Lag 0 is the second one ending `least` looks into the first.
  const lags = first.count + second.count - 2 * least + 1;
  const shift = second.count - least;
  const products = new Float64Array(lags);
  first.bands.forEach((band, index) => {
    const moved = new Float64Array(shift + first.count);
    moved.set(band, shift);
    const own = correlate(second.bands[index] ?? new Float64Array(0), moved, lags);
    for (let lag = 0; lag < lags; lag += 1) products[lag] = (products[lag] ?? 0) + (own[lag] ?? 0);
  });
  const [firstPower, secondPower] = [sumPower(first), sumPower(second)];
  const scores = products.map((product, lag) => {
    const at = lag - shift;
    const from = Math.max(0, at);
    const to = Math.min(first.count, at + second.count);
    const power =
      ((firstPower[to] ?? 0) - (firstPower[from] ?? 0)) *
      ((secondPower[to - at] ?? 0) - (secondPower[from - at] ?? 0));
    // Of two places that fit alike the one with more in common is the likelier.
    const common = (to - from) / (to - from + LEAST_OVERLAP_S * ONSET_RATE_HZ);
    return power > 1e-9 ? (product / Math.sqrt(power)) * Math.sqrt(common) : 0;
  });
  return pickPlaces(scores, most).map((lag) => ({
    offsetUs: Math.round(((lag - shift) * 1e6) / ONSET_RATE_HZ),
    score: scores[lag] ?? 0,
  }));
}

/** Running sums of the power of all bands. */
function sumPower({ count, bands }: OnsetBands): Float64Array {
  const sums = new Float64Array(count + 1);
  for (let at = 0; at < count; at += 1)
    sums[at + 1] = (sums[at] ?? 0) + bands.reduce((sum, band) => sum + (band[at] ?? 0) ** 2, 0);
  return sums;
}

function pickPlaces(scores: Float64Array, most: number): number[] {
  const apart = Math.round(APART_S * ONSET_RATE_HZ);
  const order = Array.from(scores.keys())
    .filter((at) => (scores[at] ?? 0) >= (scores[at - 1] ?? -1) && (scores[at] ?? 0) > (scores[at + 1] ?? -1))
    .sort((left, right) => (scores[right] ?? 0) - (scores[left] ?? 0));
  const places: number[] = [];
  for (const at of order) {
    if (places.length >= most) break;
    if (!places.some((other) => Math.abs(other - at) < apart)) places.push(at);
  }
  return places;
}
