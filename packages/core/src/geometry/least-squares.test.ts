import { describe, expect, it } from 'vitest';
import { findMedian, fitProjective, fitRobustly, solveLeastSquares, weighTukey } from './least-squares.ts';
import { applyProjective, type Projective } from './projective.ts';

describe('least squares', () => {
  it('put a line through points as by hand', () => {
    // Of (0, 1), (1, 2), (2, 4): slope 3/2, base 5/6.
    const equations = [
      { terms: [1, 0], wanted: 1 },
      { terms: [1, 1], wanted: 2 },
      { terms: [1, 2], wanted: 4 },
    ];
    const [base, slope] = solveLeastSquares(equations, 2) ?? [];
    expect([base, slope]).toEqual([expect.closeTo(5 / 6, 12), expect.closeTo(1.5, 12)]);
    // Counting twice is being there twice.
    const heavy = equations.map((each, index) => ({ ...each, weight: index === 2 ? 2 : 1 }));
    expect(solveLeastSquares(heavy, 2)).toEqual(
      solveLeastSquares([...equations, { terms: [1, 2], wanted: 4 }], 2)?.map((each) =>
        expect.closeTo(each, 12),
      ),
    );
  });

  it('say nothing where equations do not tell everything', () => {
    expect(solveLeastSquares([{ terms: [1, 1], wanted: 3 }], 2)).toBeNull();
  });

  it('find the homography that points went through', () => {
    const map: Projective = [1100, 40, 30, -20, 900, 55, 0.12, -0.05, 1];
    const pairs = Array.from({ length: 12 }, (_, index) => {
      const from = { x: (index % 4) / 3, y: Math.floor(index / 4) / 2 };
      return { from, to: applyProjective(map, from) };
    });
    const found = fitProjective(pairs);
    for (const from of [
      { x: 0.2, y: 0.7 },
      { x: 0.9, y: 0.1 },
    ]) {
      const [own, wanted] = [applyProjective(found ?? map, from), applyProjective(map, from)];
      expect(Math.hypot(own.x - wanted.x, own.y - wanted.y)).toBeLessThan(1e-5);
    }
    expect(fitProjective(pairs.slice(0, 3))).toBeNull();
  });
});

describe('what most equations agree on', () => {
  const on = (x: number, wanted: number) => ({ terms: [1, x], wanted });
  const line = Array.from({ length: 20 }, (_, x) => on(x, 3 + 0.5 * x + 0.01 * (-1) ** x));
  it('is found past a quarter of them that are far off, which count no more', () => {
    const astray = [2, 5, 9, 13, 18].map((x) => on(x, 40 + x));
    const found = fitRobustly([...line, ...astray], 2, 0.02);
    expect(found?.factors[0]).toBeCloseTo(3, 1);
    expect(found?.factors[1]).toBeCloseTo(0.5, 2);
    expect(found?.weights.slice(20)).toEqual([0, 0, 0, 0, 0]);
    expect(Math.min(...(found?.weights.slice(0, 20) ?? [0]))).toBeGreaterThan(0.8);
    expect(found?.deviation).toBe(0.02);
  });

  it('is not told where they do not tell everything', () => {
    expect(fitRobustly([on(1, 2), on(1, 2)], 2, 0.1)).toBeNull();
  });
});

it('errors lose their say evenly, and all of it beyond 4.685 deviations', () => {
  expect([weighTukey(0), weighTukey(4.685), weighTukey(9)]).toEqual([1, 0, 0]);
  expect(weighTukey(4.685 / Math.SQRT2)).toBeCloseTo(0.25, 12);
  expect(findMedian([5, 1, 3])).toBe(3);
});
