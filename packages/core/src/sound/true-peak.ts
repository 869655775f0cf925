/** Samples that each point between two samples is computed from. */
export const PEAK_TAPS = 12;
const OVERSAMPLING = 4;

/**
 * Weights that give the three points between two samples (ITU-R BS.1770-4 annex 2 asks for four times as
 * many): a sinc under a Kaiser window, one set a phase, each summing to 1. The first weight belongs to the
 * sample five before the left one.
 */
export function buildPeakPhases(): readonly Float64Array[] {
  const half = PEAK_TAPS / 2;
  return Array.from({ length: OVERSAMPLING - 1 }, (_, phase) => {
    const at = (phase + 1) / OVERSAMPLING;
    const weights = Float64Array.from({ length: PEAK_TAPS }, (_unused, tap) => {
      const distance = tap - (half - 1) - at;
      return sinc(distance) * kaiser(distance / half);
    });
    const sum = weights.reduce((total, weight) => total + weight, 0);
    return weights.map((weight) => weight / sum);
  });
}

function sinc(x: number): number {
  return x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
}

const KAISER_BETA = 5;

function kaiser(x: number): number {
  return Math.abs(x) >= 1 ? 0 : besselI0(KAISER_BETA * Math.sqrt(1 - x * x)) / besselI0(KAISER_BETA);
}

/** Modified Bessel function of the first kind, order 0, by its power series. */
function besselI0(x: number): number {
  let [sum, term] = [1, 1];
  for (let k = 1; k < 30; k += 1) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}
