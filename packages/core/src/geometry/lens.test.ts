import { describe, expect, it } from 'vitest';
import { bendPoint, MOST_BEND, straightenPoint } from './lens.ts';

/** Half of its diagonal is 500 points. */
const size = { widthPx: 800, heightPx: 600 };

describe('a lens', () => {
  it('draws a corner in by its factor, and leaves the middle', () => {
    // The corner lies one half-diagonal away: 500 · (1 − 0.04) = 480 points, at 3/5 and 4/5 of it.
    expect(bendPoint(-0.04, size, { x: 800, y: 600 })).toEqual({ x: 784, y: 588 });
    expect(bendPoint(-0.04, size, { x: 400, y: 300 })).toEqual({ x: 400, y: 300 });
  });
  it('moves a place half as far away by an eighth of that', () => {
    // 250 points from the middle: 250 · 0.04 · (1/2)² = 2.5 points.
    const { x, y } = bendPoint(0.04, size, { x: 650, y: 300 });
    expect(x).toBeCloseTo(652.5, 9);
    expect(y).toBe(300);
  });
  it.each([-MOST_BEND, -0.03, 0, 0.02, MOST_BEND])('of factor %s is undone all over a picture', (factor) => {
    for (let place = 0; place < 121; place += 1) {
      const point = { x: -40 + 88 * (place % 11), y: -30 + 66 * Math.floor(place / 11) };
      const { x, y } = straightenPoint(factor, size, bendPoint(factor, size, point));
      expect(Math.abs(x - point.x)).toBeLessThan(1e-6);
      expect(Math.abs(y - point.y)).toBeLessThan(1e-6);
    }
  });
});
