import { describe, expect, it } from 'vitest';
import { createRandom } from '../test-support/piece-scene.ts';
import { measureDetailMap } from './measure-detail.ts';

const [W, H] = [480, 360];

/** The integral of a Gaussian, by the error function (Abramowitz and Stegun 7.1.26). */
function rise(t: number): number {
  const x = Math.abs(t) / Math.SQRT2;
  const k = 1 / (1 + 0.3275911 * x);
  const poly =
    k * (0.254829592 + k * (-0.284496736 + k * (1.421413741 + k * (-1.453152027 + k * 1.061405429))));
  const erf = 1 - poly * Math.exp(-x * x);
  return t < 0 ? 0.5 - erf / 2 : 0.5 + erf / 2;
}

/** Bars of 40 points whose edges are Gaussian with a deviation that `blurAt` gives; grain on top of it. */
function drawBars(blurAt: (x: number, y: number) => number, grain = 0) {
  const random = createRandom(3);
  const gauss = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
  const luma = Uint8Array.from({ length: W * H }, (_, at) => {
    const [x, y] = [at % W, Math.floor(at / W)];
    const blur = blurAt(x, y);
    const place = (x + 20.3) % 80;
    const level = rise((place - 20) / blur) - rise((place - 60) / blur);
    return Math.max(0, Math.min(255, Math.round(60 + 130 * level + grain * gauss())));
  });
  return { widthPx: W, heightPx: H, luma };
}
const known = (blurs: readonly (number | null)[]) => blurs.filter((each) => each !== null);
const median = (values: readonly number[]) =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

describe('detail of a picture', () => {
  it.each([0.8, 1.2, 2, 3])('tells edges blurred by %f points', (blur) => {
    const { blursPx } = measureDetailMap(drawBars(() => blur));
    expect(known(blursPx).length).toBeGreaterThan(40);
    expect(Math.abs(median(known(blursPx)) / blur - 1)).toBeLessThan(0.15);
  });

  it('tells which part is out of focus', () => {
    const { blursPx, columns, rows } = measureDetailMap(drawBars((x) => (x < W / 2 ? 0.8 : 3), 1.5));
    const side = (isRight: boolean) =>
      known(blursPx.filter((_, tile) => tile % columns >= columns / 2 === isRight));
    expect([columns, rows]).toEqual([12, 9]);
    expect(median(side(false))).toBeLessThan(1.1);
    expect(median(side(true))).toBeGreaterThan(1.7);
  });

  it('says nothing of parts without edges, whatever their shading', () => {
    const luma = Uint8Array.from({ length: W * H }, (_, at) => 40 + Math.round(((at % W) / W) * 170));
    expect(known(measureDetailMap({ widthPx: W, heightPx: H, luma }).blursPx)).toEqual([]);
  });

  it.each([1, 3, 8])('tells grain of %f levels', (grain) => {
    const found = measureDetailMap(drawBars(() => 1.5, grain)).grain;
    expect(Math.abs(found / grain - 1)).toBeLessThan(0.2);
  });

  it('tells how wide the strokes of writing are, and sees none where none is', () => {
    for (const stroke of [2, 3]) {
      const luma = new Uint8Array(W * H).fill(225);
      const random = createRandom(9);
      // Letters: an upright, a foot and an arm, five strokes high.
      const fill = (x0: number, y0: number, w: number, h: number) => {
        for (let y = y0; y < y0 + h; y += 1) luma.fill(40, y * W + x0, y * W + x0 + w);
      };
      for (let y = 20; y < H - 40; y += 9 * stroke)
        for (let x = 20; x < W - 40; x += 5 * stroke) {
          if (random() < 0.15) continue;
          fill(x, y, stroke, 5 * stroke);
          fill(x, y + (random() < 0.5 ? 0 : 4 * stroke), 3 * stroke, stroke);
        }
      const { writing } = measureDetailMap({ widthPx: W, heightPx: H, luma });
      expect(Math.abs((writing?.strokePx ?? 0) - stroke)).toBeLessThan(0.6);
      expect(writing?.heightPx).toBe(5 * stroke);
    }
    expect(measureDetailMap(drawBars(() => 1.2, 2)).writing).toBeNull();
  });
});
