import type { Triple } from './spaces.ts';

/**
 * Terms that light is mixed from: its three sides, or those and the roots of their products, which keep their
 * hue however bright they are.
 */
export function listMixTerms([red, green, blue]: Triple, count: 3 | 6): number[] {
  if (count === 3) return [red, green, blue];
  const root = (left: number, right: number) => Math.sqrt(Math.max(0, left) * Math.max(0, right));
  return [red, green, blue, root(red, green), root(green, blue), root(red, blue)];
}

/** Light whose every side is mixed from terms: factors of red, of green and of blue, one after another. */
export function mixLight(mix: readonly number[], light: Triple): Triple {
  const count = mix.length === 18 ? 6 : 3;
  const terms = listMixTerms(light, count);
  return [0, 1, 2].map((side) =>
    terms.reduce((sum, term, index) => sum + term * (mix[side * count + index] ?? 0), 0),
  ) as unknown as Triple;
}
