/** Correlation below this says nothing: silence, or two different sounds. */
const LEAST_CORRELATION = 0.5;

/**
 * How much later `made` sounds than `source`, by the highest normalised cross-correlation within `maxUs` either way. Both are mono samples at
 * `rateHz` that should start together. null where they are silent or too unlike to compare.
 */
export function findSoundOffset(
  source: Int16Array,
  made: Int16Array,
  rateHz: number,
  maxUs: number,
): { offsetUs: number; correlation: number } | null {
  const lags = Math.round((maxUs * rateHz) / 1e6);
  const length = Math.min(source.length, made.length);
  const span = Math.min(length - 2 * lags, rateHz * 8);
  if (span < rateHz / 10) return null;
  const from = findLoudest(source, lags, length - lags - span, span);
  const energyOf = (samples: Int16Array, start: number) => {
    let sum = 0;
    for (let index = 0; index < span; index += 1) sum += (samples[start + index] ?? 0) ** 2;
    return sum;
  };
  const sourceEnergy = energyOf(source, from);
  if (sourceEnergy / span < 25) return null;
  let best = { lag: 0, correlation: -1 };
  let madeEnergy = energyOf(made, from - lags);
  for (let lag = -lags; lag <= lags; lag += 1) {
    let sum = 0;
    for (let index = 0; index < span; index += 1)
      sum += (source[from + index] ?? 0) * (made[from + lag + index] ?? 0);
    const correlation = sum / Math.sqrt(sourceEnergy * Math.max(1, madeEnergy));
    if (correlation > best.correlation) best = { lag, correlation };
    madeEnergy += (made[from + lag + span] ?? 0) ** 2 - (made[from + lag] ?? 0) ** 2;
  }
  return best.correlation < LEAST_CORRELATION
    ? null
    : { offsetUs: Math.round((best.lag * 1e6) / rateHz), correlation: best.correlation };
}

/** Where the loudest stretch of `span` samples starts between two places. */
function findLoudest(samples: Int16Array, first: number, last: number, span: number): number {
  const step = Math.max(1, Math.floor(span / 4));
  let best = { at: first, energy: -1 };
  for (let at = first; at <= last; at += step) {
    let energy = 0;
    for (let index = 0; index < span; index += 16) energy += (samples[at + index] ?? 0) ** 2;
    if (energy > best.energy) best = { at, energy };
  }
  return best.at;
}
