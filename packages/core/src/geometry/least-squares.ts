import { eliminate } from './eliminate.ts';
import type { Point, Projective } from './projective.ts';

/** One equation: factors of the unknown, what they sum up to, and how much it counts. */
export interface Equation {
  readonly terms: readonly number[];
  readonly wanted: number;
  readonly weight?: number;
}

/**
 * The unknown that fulfil equations best by the weighted sum of squares (normal equations). null where these
 * do not tell all of them.
 */
export function solveLeastSquares(equations: Iterable<Equation>, count: number): number[] | null {
  const width = count + 1;
  const rows = new Float64Array(count * width);
  for (const { terms, wanted, weight = 1 } of equations)
    for (let row = 0; row < count; row += 1) {
      const by = weight * (terms[row] as number);
      for (let column = 0; column < count; column += 1)
        rows[row * width + column] = (rows[row * width + column] as number) + by * (terms[column] as number);
      rows[row * width + count] = (rows[row * width + count] as number) + by * wanted;
    }
  return eliminate(rows, count);
}

/** The map that takes points nearest to others (least squares over the linear form of a homography). */
export function fitProjective(pairs: readonly { from: Point; to: Point }[]): Projective | null {
  const found = solveLeastSquares(
    pairs.flatMap(({ from, to }) => [
      { terms: [from.x, from.y, 1, 0, 0, 0, -from.x * to.x, -from.y * to.x], wanted: to.x },
      { terms: [0, 0, 0, from.x, from.y, 1, -from.x * to.y, -from.y * to.y], wanted: to.y },
    ]),
    8,
  );
  return found && ([...found, 1] as unknown as Projective);
}

/** A median of absolute deviations is so much smaller than the deviation of a normal distribution. */
export const MAD_TO_DEVIATION = 1.4826;
/** Errors beyond so many deviations have no say at all. */
const TUKEY = 4.685;

/** How much an error of so many deviations still counts (J. Tukey's biweight), 1 to 0. */
export function weighTukey(deviations: number): number {
  const left = 1 - (deviations * deviations) / (TUKEY * TUKEY);
  return left > 0 ? left * left : 0;
}

/** The upper of both middle values where there are two; 0 of none. */
export function findMedian(values: readonly number[]): number {
  return [...values].sort((left, right) => left - right)[values.length >> 1] ?? 0;
}

const ROBUST_ROUNDS = 8;

export interface RobustFit {
  readonly factors: readonly number[];
  /** How much each equation still counted, 0 to 1. */
  readonly weights: readonly number[];
  /** How far those that count lie off, as the deviation of a normal distribution; never below the least. */
  readonly deviation: number;
}

/**
 * The unknown that most equations agree on: those far off lose their say step by step (iteratively reweighted
 * least squares). It begins with all of them alike, or from `start`. Off by less than `least` is not off at
 * all. null where what counts does not tell everything.
 */
export function fitRobustly(
  equations: readonly Equation[],
  count: number,
  least: number,
  start: readonly number[] | null = null,
): RobustFit | null {
  let weights: readonly number[] = equations.map(() => 1);
  let factors = start;
  let deviation = least;
  for (let round = 0; round < ROBUST_ROUNDS; round += 1) {
    if (round > 0 || !factors)
      factors = solveLeastSquares(
        equations.map((each, index) => ({ ...each, weight: weights[index] as number })),
        count,
      );
    const own = factors;
    if (!own) return null;
    const errors = equations.map(({ terms, wanted }) =>
      terms.reduce((sum, term, at) => sum - term * (own[at] as number), wanted),
    );
    deviation = Math.max(least, MAD_TO_DEVIATION * findMedian(errors.map(Math.abs)));
    weights = errors.map((error) => weighTukey(error / deviation));
  }
  return factors && { factors, weights, deviation };
}
