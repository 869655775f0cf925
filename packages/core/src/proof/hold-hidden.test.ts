import { describe, expect, it } from 'vitest';
import { hideInLevels } from '../geometry/hidden.ts';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { buildConstantFrameTimes } from '../time/frame-times.ts';
import { buildTimeline } from '../timeline/timeline.ts';
import { createRandom } from '../test-support/piece-scene.ts';
import { HiddenLook } from './hold-hidden.ts';

const RATE = { numerator: 25, denominator: 1 };
const size = { widthPx: 320, heightPx: 180 };
const frames = buildConstantFrameTimes(0, 50, RATE);
const timeline = buildTimeline({
  recipe: { spans: [{ source: 0, startUs: 400_000, finishUs: 1_600_000 }] },
  sources: [{ frames, constantRate: RATE, endUs: 2_000_000 }],
  rate: RATE,
});
const area = {
  radiusX: 0.15,
  radiusY: 0.25,
  path: [
    { timeUs: 0, x: 0.3, y: 0.5 },
    { timeUs: 2_000_000, x: 0.7, y: 0.5 },
  ],
};
/** Something like a face against something like a wall: edges and dots of many sizes. */
function drawFrame(): Uint8Array {
  const random = createRandom(7);
  const levels = new Uint8Array(320 * 180).fill(120);
  for (let blot = 0; blot < 900; blot += 1) {
    const [x, y, r, level] = [random() * 320, random() * 180, 1 + random() * 5, 40 + random() * 180];
    for (let py = Math.max(0, Math.floor(y - r)); py < Math.min(180, y + r); py += 1)
      for (let px = Math.max(0, Math.floor(x - r)); px < Math.min(320, x + r); px += 1)
        if ((px - x) ** 2 + (py - y) ** 2 < r * r) levels[py * 320 + px] = level;
  }
  return levels;
}
const look = () =>
  new HiddenLook({ areas: [area], source: size, framing: createPlainRecipe().picture, frames, timeline });

describe('looking at hidden areas of a made file', () => {
  it('sees what was hidden where it belongs, and what was not', () => {
    const [good, bad, late] = [look(), look(), look()];
    for (let output = 0; output < timeline.frameCount; output += 1) {
      // Output 0 is the recording's frame 10: 0.4 s in, a fifth of the way.
      const way = 0.3 + 0.4 * ((output + 10) / 50);
      const hide = (x: number) => {
        const levels = drawFrame();
        hideInLevels(levels, size, [{ ...area, place: { x, y: 0.5 } }], 1);
        return levels;
      };
      good.add(output, hide(way), size);
      bad.add(output, drawFrame(), size);
      late.add(output, hide(way + 0.2), size);
    }
    expect(good.found.looked).toBe(30);
    expect(good.found.worstDetail).toBeLessThan(0.15);
    expect(bad.found.worstDetail).toBeGreaterThan(0.5);
    expect(late.found.worstDetail).toBeGreaterThan(0.4);
  });

  it('finds nothing to be recognised in an even picture, and nothing at all beyond the frames', () => {
    const even = look();
    even.add(3, new Uint8Array(320 * 180).fill(90), size);
    expect(even.found).toEqual({ looked: 1, worstDetail: 0, worstOutput: 3 });
    const none = look();
    none.add(9999, drawFrame(), size);
    expect(none.found).toEqual({ looked: 0, worstDetail: 0, worstOutput: null });
  });
});
