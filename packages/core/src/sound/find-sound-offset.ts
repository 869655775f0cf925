/** Correlation below this is of two different sounds. */
const LEAST_CORRELATION = 0.5;
/** Mean square below which 16-bit samples are silence: about 76 dB below full scale. */
const SILENT_POWER = 25;
/** A place nearer to none that is this close to the best is taken: a steady tone fits at every period. */
const TIE_SHARE = 0.985;
/** Places so near to one another are one. */
const BESIDE_SAMPLES = 3;
/** Every so many samples are summed while the place is looked for; the best ones are weighed in full. */
const COARSE_STEP = 3;
const CANDIDATES = 12;

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
  const sourceEnergy = sumProducts(source, from, source, from, length, 1);
  if (sourceEnergy / length < SILENT_POWER) return { state: 'silent' };
  const lags = Math.round((input.maxUs * rateHz) / 1e6);
  const coarseEnergy = sumProducts(source, from, source, from, length, COARSE_STEP);
  const weigh = (lag: number, step: number) => {
    const energy = sumProducts(made, base + lag, made, base + lag, length, step);
    const own = step === 1 ? sourceEnergy : coarseEnergy;
    const product = sumProducts(source, from, made, base + lag, length, step);
    return product / Math.sqrt(Math.max(1, energy) * Math.max(1, own));
  };
  const coarse = Array.from({ length: 2 * lags + 1 }, (_, index) => index - lags)
    .map((lag) => ({ lag, correlation: weigh(lag, COARSE_STEP) }))
    .sort((left, right) => right.correlation - left.correlation);
  const best = coarse[0]?.correlation ?? 0;
  const near = coarse
    .filter((each) => each.correlation >= best * 0.97 - 0.01)
    .sort((left, right) => Math.abs(left.lag) - Math.abs(right.lag));
  const fine = [...coarse.slice(0, CANDIDATES), ...near.slice(0, CANDIDATES)].map(({ lag }) => ({
    lag,
    correlation: weigh(lag, 1),
  }));
  const highest = Math.max(...fine.map((each) => each.correlation));
  if (highest < LEAST_CORRELATION) return { state: 'unlike', correlation: Math.max(0, highest) };
  const tied = fine
    .filter((each) => each.correlation >= highest * TIE_SHARE)
    .sort((left, right) => Math.abs(left.lag) - Math.abs(right.lag));
  const nearest = tied[0];
  // Of the places around the nearest one that fits, the best.
  const isBeside = (lag: number) => nearest !== undefined && Math.abs(lag - nearest.lag) <= BESIDE_SAMPLES;
  const group = tied.filter((each) => isBeside(each.lag));
  const [chosen = { lag: 0, correlation: 0 }] = group.sort(
    (left, right) => right.correlation - left.correlation,
  );
  return {
    state: 'same',
    offsetUs: Math.round((chosen.lag * 1e6) / rateHz),
    correlation: chosen.correlation,
    isAmbiguous: tied.some((each) => !isBeside(each.lag)),
  };
}

/** Sum of products of two stretches, every `step`-th sample; what lies outside is silence. */
function sumProducts(
  left: Int16Array,
  leftFrom: number,
  right: Int16Array,
  rightFrom: number,
  length: number,
  step: number,
): number {
  let sum = 0;
  for (let index = 0; index < length; index += step)
    sum += (left[leftFrom + index] ?? 0) * (right[rightFrom + index] ?? 0);
  return sum;
}
