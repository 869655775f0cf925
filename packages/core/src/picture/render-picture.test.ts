import { describe, expect, it } from 'vitest';
import { measureShaped } from '../recipe/picture-wish.ts';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { planRender } from './plan-render.ts';
import { renderPicture, renderRows, renderTogether } from './render-picture.ts';

const W = 61;
const H = 50;
const levels = Uint8Array.from({ length: W * H * 3 }, (_, at) => (at * 37) % 256);
const source = { widthPx: W, heightPx: H, most: 255 as const, levels };
const { picture } = createPlainRecipe();
const flatten = {
  ...picture,
  flatten: {
    corners: [
      { x: 0.1, y: 0.05 },
      { x: 0.9, y: 0.12 },
      { x: 0.95, y: 0.9 },
      { x: 0.04, y: 0.97 },
    ] as never,
    aspect: null,
  },
};

describe('a rendered picture', () => {
  it('is what it was where nothing is asked for', () => {
    const { reduced, fill } = planRender(source, picture, source);
    expect(reduced).toEqual({ widthPx: W, heightPx: H });
    expect(renderPicture(fill(source))).toEqual(levels);
  });

  it('is mirrored point for point', () => {
    const made = renderPicture(planRender(source, { ...picture, isMirrored: true }, source).fill(source));
    for (const [x, y] of [
      [0, 0],
      [17, 9],
      [W - 1, H - 1],
    ] as const)
      expect(made[(y * W + x) * 3]).toBe(levels[(y * W + W - 1 - x) * 3]);
  });

  it('is the same from several that take rows from each other, in whatever order', () => {
    const input = planRender(source, flatten, { widthPx: 80, heightPx: 70 }).fill(source);
    const whole = renderPicture(input);
    const made = new Uint8Array(whole.length);
    const taken = new Int32Array(1);
    // Another one took the second block meanwhile.
    renderRows(input, 16, 32, made);
    Atomics.add(taken, 0, 2);
    renderTogether(input, made, taken);
    expect(made.subarray(16 * 80 * 3)).toEqual(whole.subarray(16 * 80 * 3));
    expect(made.subarray(0, 16 * 80 * 3).every((level) => level === 0)).toBe(true);
    renderRows(input, 0, 16, made);
    expect(made).toEqual(whole);
  });

  it('keeps a level grey whatever is done to its place', () => {
    const grey = { ...source, levels: new Uint8Array(W * H * 3).fill(119) };
    const made = renderPicture(planRender(grey, flatten, { widthPx: 40, heightPx: 44 }).fill(grey));
    expect(new Set(made)).toEqual(new Set([119]));
  });

  it('has a white border as wide on every side, and white bars with it', () => {
    const black = { ...source, levels: new Uint8Array(W * H * 3) };
    const wish = { ...picture, border: 0.1 };
    const framed = measureShaped(source, wish);
    expect(framed).toEqual({ widthPx: W + 10, heightPx: H + 10 });
    const made = renderPicture(planRender(black, wish, framed).fill(black));
    const level = (x: number, y: number) => made[(y * framed.widthPx + x) * 3];
    expect([level(0, 0), level(4, 30), level(30, 4), level(framed.widthPx - 1, 30)]).toEqual([
      255, 255, 255, 255,
    ]);
    expect([level(5, 30), level(30, 5), level(framed.widthPx - 6, framed.heightPx - 6)]).toEqual([0, 0, 0]);
    const wide = { ...wish, barsTo: 2 };
    const barred = renderPicture(planRender(black, wide, { widthPx: 120, heightPx: 60 }).fill(black));
    expect([barred[(30 * 120 + 8) * 3], barred[(30 * 120 + 60) * 3]]).toEqual([255, 0]);
  });

  it('leaves bars black and nothing else', () => {
    const white = { ...source, levels: new Uint8Array(W * H * 3).fill(255) };
    const size = { widthPx: 100, heightPx: 50 };
    const made = renderPicture(planRender(white, { ...picture, barsTo: 2 }, size).fill(white));
    const row = Array.from({ length: 100 }, (_, x) => made[(25 * 100 + x) * 3]);
    const shown = row.filter((level) => level === 255).length;
    expect(shown + row.filter((level) => level === 0).length).toBe(100);
    expect(Math.abs(shown - (50 * W) / H)).toBeLessThanOrEqual(1);
  });
});
