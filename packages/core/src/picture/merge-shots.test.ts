import { describe, expect, it } from 'vitest';
import { convertRgb8ToLab, measureDeltaE } from '../color/lab.ts';
import { applyProjective, invertProjective, mapSquareTo } from '../geometry/projective.ts';
import {
  H,
  HELD,
  lampA,
  lampB,
  MOVED,
  photographBoard,
  placeCorners,
  W,
} from '../test-support/glare-scene.ts';
import { createRandom } from '../test-support/piece-scene.ts';
import { alignShot } from './align-shots.ts';
import { mergeShots } from './merge-shots.ts';

const wanted = photographBoard({ corners: HELD, lamp: lampA, glare: null, seed: 1 });
const first = photographBoard({ corners: HELD, lamp: lampA, glare: { u: 0.35, v: 0.3 }, seed: 2 });
const second = photographBoard({ corners: MOVED, lamp: lampB, glare: { u: 0.72, v: 0.5 }, seed: 3 });

/** Mean color difference to the truth inside or outside of the lamp's own place. */
function measure(rgb: Uint8Array, isInside: boolean): number {
  const toBoard = invertProjective(mapSquareTo(HELD.map(({ x, y }) => ({ x: x * W, y: y * H })) as never));
  let [sum, count] = [0, 0];
  for (let y = 2; y < H; y += 3)
    for (let x = 2; x < W; x += 3) {
      const { x: u, y: v } = applyProjective(toBoard, { x: x + 0.5, y: y + 0.5 });
      const isGlare = Math.hypot(u - 0.35, v - 0.3) < 0.12;
      if (isGlare !== isInside || u < 0.05 || v < 0.05 || u > 0.95 || v > 0.95) continue;
      const lab = (bytes: Uint8Array) => {
        const at = (y * W + x) * 3;
        return convertRgb8ToLab(bytes[at] ?? 0, bytes[at + 1] ?? 0, bytes[at + 2] ?? 0);
      };
      sum += measureDeltaE(lab(rgb), lab(wanted.bytes));
      count += 1;
    }
  return sum / count;
}

describe('shots of one piece', () => {
  it('are laid on each other within half a point, by corners or as they lie', () => {
    const toFirst = mapSquareTo(HELD);
    const toSecond = mapSquareTo(MOVED.map(({ x, y }) => ({ x: x * W, y: y * H })) as never);
    for (const corners of [[HELD, MOVED] as const, null]) {
      const near = corners
        ? second
        : photographBoard({
            corners: placeCorners(HELD.map(({ x, y }) => [x + 0.006, y - 0.008])),
            lamp: lampB,
            glare: null,
            seed: 4,
          });
      const found = alignShot(first, near, corners);
      expect(found?.matched).toBeGreaterThan(20);
      for (const at of [
        { x: 0.1, y: 0.1 },
        { x: 0.5, y: 0.5 },
        { x: 0.9, y: 0.8 },
      ]) {
        const from = applyProjective(toFirst, at);
        const own = applyProjective(found?.map ?? toFirst, from);
        const true_ = corners
          ? applyProjective(toSecond, at)
          : { x: (from.x + 0.006) * W, y: (from.y - 0.008) * H };
        expect(Math.hypot(own.x - true_.x, own.y - true_.y)).toBeLessThan(0.5);
      }
    }
  });

  it('become one without the lamp in it, and nothing else is changed', () => {
    const merged = mergeShots([
      { picture: first, corners: HELD },
      { picture: second, corners: MOVED },
    ]);
    const before = measure(first.bytes, true);
    expect(before).toBeGreaterThan(15);
    expect(measure(merged.rgb, true)).toBeLessThan(Math.min(3.5, before / 5));
    expect(measure(merged.rgb, false)).toBeLessThan(measure(first.bytes, false) + 0.3);
    expect(merged.replacedShare).toBeGreaterThan(0.005);
    expect(merged.replacedShare).toBeLessThan(0.2);
  });

  it('that are of something else are refused, in words', () => {
    const random = createRandom(8);
    const other = { ...first, bytes: first.bytes.map(() => Math.floor(random() * 255)) };
    const merge = () =>
      mergeShots([
        { picture: first, corners: HELD },
        { picture: other, corners: null },
      ]);
    expect(merge).toThrow(/same piece/);
    expect(() => mergeShots([{ picture: first, corners: null }])).toThrow(RangeError);
  });
});
