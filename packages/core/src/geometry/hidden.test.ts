import { describe, expect, it } from 'vitest';
import { countHiddenCells, findHidden, HiddenArea, hideInLevels, markHidden } from './hidden.ts';

const area: HiddenArea = {
  radiusX: 0.1,
  radiusY: 0.2,
  path: [
    { timeUs: 1_000_000, x: 0.2, y: 0.5 },
    { timeUs: 3_000_000, x: 0.6, y: 0.7 },
  ],
};

describe('a hidden area', () => {
  it.each([
    [0, 0.2, 0.5],
    [1_000_000, 0.2, 0.5],
    [1_500_000, 0.3, 0.55],
    [3_000_000, 0.6, 0.7],
    [9_000_000, 0.6, 0.7],
  ])('at %d µs lies at %f, %f', (timeUs, x, y) => {
    expect(findHidden(area, timeUs).x).toBeCloseTo(x, 9);
    expect(findHidden(area, timeUs).y).toBeCloseTo(y, 9);
  });

  it('stays inside the picture as a whole, wherever it is set', () => {
    const set = markHidden(area, 2_000_000, { x: -1, y: 2 });
    expect(findHidden(set, 2_000_000)).toEqual({ x: 0.1, y: 0.8 });
    expect(set.path.map((mark) => mark.timeUs)).toEqual([1_000_000, 2_000_000, 3_000_000]);
    // A mark that is there already is moved, not set twice.
    expect(markHidden(set, 2_000_000, { x: 0.5, y: 0.5 }).path).toHaveLength(3);
  });

  it('refuses marks out of order, none, and radii that hide nothing', () => {
    expect(HiddenArea.safeParse({ ...area, path: [...area.path].reverse() }).success).toBe(false);
    expect(HiddenArea.safeParse({ ...area, path: [] }).success).toBe(false);
    expect(HiddenArea.safeParse({ ...area, radiusX: 0.001 }).success).toBe(false);
  });

  it('has six cells along its longer edge, and as square ones as can be', () => {
    expect(countHiddenCells(120, 120)).toEqual({ across: 6, down: 6 });
    expect(countHiddenCells(60, 120)).toEqual({ across: 3, down: 6 });
    expect(countHiddenCells(600, 40)).toEqual({ across: 6, down: 1 });
  });
});

describe('hiding in a small picture', () => {
  const size = { widthPx: 48, heightPx: 48 };
  const levels = () =>
    Uint8Array.from({ length: 48 * 48 * 3 }, (_, at) => (Math.floor(at / 3) % 2 === 0 ? 200 : 40));
  const place = { radiusX: 0.25, radiusY: 0.25, place: { x: 0.5, y: 0.5 } };

  it('leaves the average of every cell of fine stripes, and nothing else', () => {
    const made = levels();
    hideInLevels(made, size, [place], 3);
    const at = (x: number, y: number) => made[(y * 48 + x) * 3] ?? 0;
    for (const [x, y] of [
      [24, 24],
      [25, 24],
      [20, 30],
      [30, 20],
    ] as const)
      expect(Math.abs(at(x, y) - 120)).toBeLessThanOrEqual(1);
    // Corners of the box lie outside of the ellipse, and stay.
    expect([at(13, 13), at(2, 24), at(3, 24)]).toEqual([40, 200, 40]);
  });

  it('keeps what is even as it is', () => {
    const made = new Uint8Array(48 * 48).fill(77);
    hideInLevels(made, size, [place, { ...place, place: { x: 0.9, y: 0.1 } }], 1);
    expect(new Set(made)).toEqual(new Set([77]));
  });
});
