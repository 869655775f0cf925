import { expect, it } from 'vitest';
import type { ColorSignatures } from '../series/evidence.ts';
import { holdColors } from './hold-color.ts';
import { holdGeometry } from './hold-geometry.ts';

const [W, H] = [96, 54];
/** A soft scene in shares of its edges, sampled as a picture that shows `zoom` and is moved by `shift`. */
function draw(zoom = 1, shiftX = 0, shiftY = 0, tint = 0, turn = 0): ColorSignatures {
  const rgb = new Uint8Array(W * H * 3);
  for (let y = 0; y < H; y += 1)
    for (let x = 0; x < W; x += 1) {
      const [px, py] = [x + 0.5 - W / 2, y + 0.5 - H / 2];
      const [turnedX, turnedY] = [
        px * Math.cos(turn) + py * Math.sin(turn),
        py * Math.cos(turn) - px * Math.sin(turn),
      ];
      const u = (turnedX / W - shiftX) / zoom + 0.5;
      const v = (turnedY / H - shiftY) / zoom + 0.5;
      const level =
        120 + 50 * Math.sin(u * 14 + v * 3) + 40 * Math.cos(v * 11 - u * 2) + 20 * Math.sin(u * v * 25);
      for (const channel of [0, 1, 2])
        rgb[(y * W + x) * 3 + channel] = Math.max(
          0,
          Math.min(255, Math.round(level + (channel === 0 ? tint : 0))),
        );
    }
  return { widthPx: W, heightPx: H, rgb, frameIndices: Int32Array.of(0) };
}
const stance = { turnDegrees: 0, isMirrored: false } as const;
const source = draw();
const pairs = [{ output: 0, madeAt: 0, source, sourceAt: 0 }];

it('finds nothing where nothing is moved', () => {
  const found = holdGeometry(draw(), pairs, stance);
  for (const share of [found?.zoomX, found?.zoomY, found?.shiftX, found?.shiftY, found?.turn])
    expect(Math.abs(share ?? NaN)).toBeLessThan(1e-6);
});

it.each([
  [1.02, 0, 0],
  [1, 0.012, 0],
  [1, 0, -0.012],
  [0.985, 0.006, 0.004],
])('measures a zoom of %d and a shift of %d, %d within a fifth of a point', (zoom, shiftX, shiftY) => {
  const found = holdGeometry(draw(zoom, shiftX, shiftY), pairs, stance);
  if (!found) throw new Error('It has edges.');
  expect(Math.abs(found.zoomX - (zoom - 1)) * W).toBeLessThan(0.3);
  expect(Math.abs(found.shiftX - shiftX) * W).toBeLessThan(0.2);
  expect(Math.abs(found.shiftY - shiftY) * H).toBeLessThan(0.2);
});

it.each([0.6, -1])('measures a turn of %d degrees', (degrees) => {
  const turn = (degrees * Math.PI) / 180;
  const found = holdGeometry(draw(1, 0, 0, 0, turn), pairs, stance);
  expect(Math.abs((found?.turn ?? 9) - turn)).toBeLessThan(0.0025);
  expect(Math.abs(found?.shiftX ?? 9) * W).toBeLessThan(0.2);
});

it('tells nothing of a picture without edges', () => {
  const even = { ...source, rgb: new Uint8Array(W * H * 3).fill(90) };
  expect(holdGeometry(even, [{ output: 0, madeAt: 0, source: even, sourceAt: 0 }], stance)).toBeNull();
});

it('colors are held by CIEDE2000: none for the same, more for a stronger tint', () => {
  const of = (tint: number) => holdColors(draw(1, 0, 0, tint), pairs, stance).meanDeltaE;
  expect(of(0)).toBe(0);
  expect(of(12)).toBeGreaterThan(2);
  expect(of(40)).toBeGreaterThan(of(12) + 2);
});

it('a mark in one corner is seen in its part, however little of the picture it takes', () => {
  const marked = { ...source, rgb: Uint8Array.from(source.rgb) };
  for (let y = 2; y < 8; y += 1)
    for (let x = 2; x < 8; x += 1) marked.rgb.set([255, 255, 255], (y * W + x) * 3);
  const found = holdColors(marked, pairs, stance);
  expect(found.meanDeltaE).toBeLessThan(1.5);
  expect(found.worstPart?.deltaE).toBeGreaterThan(6);
  expect(Math.hypot((found.worstPart?.x ?? 1) - 5 / W, (found.worstPart?.y ?? 1) - 5 / H)).toBeLessThan(0.1);
});
