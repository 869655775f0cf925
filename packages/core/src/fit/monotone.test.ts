import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { interpolateMonotone } from './monotone.ts';

describe('interpolateMonotone', () => {
  it('goes through its points, and straight on beyond them', () => {
    const [xs, ys] = [
      [0, 1, 3, 4],
      [0, 2, 3, 7],
    ];
    xs.forEach((x, index) => expect(interpolateMonotone(xs, ys, x)).toBeCloseTo(ys[index] ?? NaN, 12));
    expect(interpolateMonotone(xs, ys, -1)).toBeCloseTo(-2, 12);
    expect(interpolateMonotone(xs, ys, 5)).toBeCloseTo(11, 12);
  });

  it('gives straight lines back as they are', () => {
    for (const x of [-2, 0.3, 1.7, 2.9, 9])
      expect(interpolateMonotone([0, 1, 3], [5, 3, -1], x)).toBeCloseTo(5 - 2 * x, 12);
    expect(interpolateMonotone([2, 4], [1, 2], 3)).toBeCloseTo(1.5, 12);
    expect(interpolateMonotone([2], [1], 30)).toBe(1);
  });

  it('has the slopes of Fritsch and Butland: worked by hand for (0,0), (1,1), (2,8)', () => {
    // In the middle 6/(3/1 + 3/7) = 1.75; at the first point (3·1 − 1·7)/2 is negative, so 0; at the last
    // (3·7 − 1)/2 = 10. Half-way: 1/2 − 1.75/8 = 0.28125, and (1 + 8)/2 + (1.75 − 10)/8 = 3.46875.
    expect(interpolateMonotone([0, 1, 2], [0, 1, 8], 0.5)).toBeCloseTo(0.28125, 12);
    expect(interpolateMonotone([0, 1, 2], [0, 1, 8], 1.5)).toBeCloseTo(3.46875, 12);
  });

  it('rises wherever its points rise', () => {
    const steps = fc.array(
      fc.tuple(fc.double({ min: 0.01, max: 5, noNaN: true }), fc.double({ min: 0, max: 5, noNaN: true })),
      { minLength: 1, maxLength: 6 },
    );
    fc.assert(
      fc.property(
        steps,
        fc.double({ min: -0.2, max: 1.2, noNaN: true }),
        fc.double({ min: -0.2, max: 1.2, noNaN: true }),
        (each, one, two) => {
          const xs = each.reduce<number[]>((all, [x]) => [...all, (all.at(-1) ?? 0) + x], [0]);
          const ys = each.reduce<number[]>((all, [, y]) => [...all, (all.at(-1) ?? 0) + y], [0]);
          const end = xs.at(-1) ?? 0;
          expect(interpolateMonotone(xs, ys, Math.max(one, two) * end)).toBeGreaterThanOrEqual(
            interpolateMonotone(xs, ys, Math.min(one, two) * end) - 1e-9,
          );
        },
      ),
    );
  });

  it('needs points', () => expect(() => interpolateMonotone([], [], 1)).toThrow(RangeError));
});
