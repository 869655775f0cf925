import { correlate } from './fft.ts';

/** Correlation below this is of two different sounds. */
const LEAST_CORRELATION = 0.5;
/** Mean square below which 16-bit samples are silence: about 76 dB below full scale. */
const SILENT_POWER = 25;
/** A place nearer to none that is this close to the best is taken: a steady tone fits at every period. */
const TIE_SHARE = 0.985;
/** A sound that is like itself over so long a stretch of places tells nothing of its own. */
const WIDEST_PLACE_US = 5_000;

export interface SoundOffsetInput {
  /** Mono samples, and where in them the stretch begins. */
  readonly source: Int16Array;
  readonly sourceFrom: number;
  readonly made: Int16Array;
  readonly madeFrom: number;
  /** Samples of the stretch. */
  readonly count: number;
  readonly rateHz: number;
  /** How far either way is looked. */
  readonly maxUs: number;
}

/**
 * How much later it sounds, and whether it fits as well at other places too, as a steady tone does at every
 * period; or that one of both is silent there; or that they are different sounds.
 */
export type SoundOffset =
  | {
      readonly state: 'same';
      readonly offsetUs: number;
      readonly correlation: number;
      readonly isAmbiguous: boolean;
    }
  | { readonly state: 'unlike'; readonly correlation: number }
  | { readonly state: 'silent' };

/**
 * How much later a stretch of `made` sounds than the same of `source`, by the highest normalised
 * cross-correlation within `maxUs` either way; of places that fit alike (a periodic sound) the one nearest to
 * none.
 */
export function findSoundOffset(input: SoundOffsetInput): SoundOffset {
  const { source, sourceFrom, made, madeFrom, count, rateHz } = input;
  const from = Math.max(0, sourceFrom, sourceFrom - madeFrom);
  const to = Math.min(source.length, sourceFrom + count);
  const length = to - from;
  const base = madeFrom + from - sourceFrom;
  if (length < rateHz / 10) return { state: 'silent' };
  const stretch = source.subarray(from, to);
  const sourceEnergy = stretch.reduce((sum, sample) => sum + sample * sample, 0);
  if (sourceEnergy / length < SILENT_POWER) return { state: 'silent' };
  const lags = Math.round((input.maxUs * rateHz) / 1e6);
  const correlations = correlateAround(stretch, made, base, lags, sourceEnergy);
  const highest = correlations.reduce((best, each) => Math.max(best, each), -1);
  if (highest < LEAST_CORRELATION) return { state: 'unlike', correlation: Math.max(0, highest) };
  const places = findPlaces(correlations, highest * TIE_SHARE, lags);
  const [nearest = { lag: 0, correlation: highest, width: 1 }] = places;
  return {
    state: 'same',
    offsetUs: Math.round((nearest.lag * 1e6) / rateHz),
    correlation: nearest.correlation,
    isAmbiguous: places.length > 1 || (nearest.width * 1e6) / rateHz > WIDEST_PLACE_US,
  };
}

/**
 * Normalised cross-correlation of a stretch with `made` from `base - lags` to `base + lags`; outside is
 * silence.
 */
function correlateAround(
  stretch: Int16Array,
  made: Int16Array,
  base: number,
  lags: number,
  sourceEnergy: number,
): Float64Array {
  const { length } = stretch;
  const wide = Float64Array.from({ length: length + 2 * lags }, (_, at) => made[base - lags + at] ?? 0);
  const products = correlate(stretch, wide, 2 * lags + 1);
  let energy = 0;
  for (let at = 0; at < length; at += 1) energy += (wide[at] ?? 0) ** 2;
  return products.map((product, at) => {
    const own = energy;
    energy += (wide[at + length] ?? 0) ** 2 - (wide[at] ?? 0) ** 2;
    return product / Math.sqrt(Math.max(1, own) * Math.max(1, sourceEnergy));
  });
}

interface Place {
  readonly lag: number;
  readonly correlation: number;
  /** Lags side by side that fit as well. */
  readonly width: number;
}

/** Runs of lags that reach `least`, each by its best lag, the nearest to none first. */
function findPlaces(correlations: Float64Array, least: number, lags: number): Place[] {
  const places: Place[] = [];
  for (let at = 0; at < correlations.length; at += 1) {
    if ((correlations[at] ?? 0) < least) continue;
    let [best, end] = [at, at];
    for (; (correlations[end] ?? 0) >= least; end += 1)
      if ((correlations[end] ?? 0) > (correlations[best] ?? 0)) best = end;
    places.push({ lag: best - lags, correlation: correlations[best] ?? 0, width: end - at });
    at = end;
  }
  return places.sort((left, right) => Math.abs(left.lag) - Math.abs(right.lag));
}
