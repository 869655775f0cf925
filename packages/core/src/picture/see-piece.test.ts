import { describe, expect, it } from 'vitest';
import { seePiece } from './see-piece.ts';

/** A light sheet on a dark desk, its corners given in points; nothing else. */
function drawSheet(corners: readonly (readonly [number, number])[], widthPx = 640, heightPx = 480) {
  const luma = new Uint8Array(widthPx * heightPx);
  const isInside = (x: number, y: number) =>
    corners.every(([ax, ay], index) => {
      const [bx, by] = corners[(index + 1) % 4] ?? [0, 0];
      return (bx - ax) * (y - ay) - (by - ay) * (x - ax) > 0;
    });
  const STEPS = 4;
  for (let y = 0; y < heightPx; y += 1)
    for (let x = 0; x < widthPx; x += 1) {
      let inside = 0;
      for (let step = 0; step < STEPS * STEPS; step += 1)
        if (isInside(x + ((step % STEPS) + 0.5) / STEPS, y + (Math.floor(step / STEPS) + 0.5) / STEPS))
          inside += 1;
      luma[y * widthPx + x] = 70 + (150 * inside) / STEPS ** 2;
    }
  return { widthPx, heightPx, luma };
}

describe('a sheet on a desk', () => {
  it('is seen at its corners, in shares of the edges of the picture', () => {
    const corners = [
      [150, 60],
      [470, 75],
      [500, 400],
      [120, 380],
    ] as const;
    const seen = seePiece(drawSheet(corners));
    expect(seen?.isCutOff).toBe(false);
    expect(seen?.confidence).toBeGreaterThan(0.8);
    for (const [index, [x, y]] of corners.entries()) {
      const found = seen?.corners[index as 0] ?? { x: 0, y: 0 };
      // A third of a point of 800 along the diagonal.
      expect(Math.abs(found.x * 640 - x)).toBeLessThan(0.4);
      expect(Math.abs(found.y * 480 - y)).toBeLessThan(0.4);
    }
  });

  it('has other proportions through another lens', () => {
    const picture = drawSheet([
      [200, 100],
      [440, 100],
      [520, 400],
      [120, 400],
    ]);
    const [wide, long] = [seePiece(picture, 0.5)?.aspect ?? 0, seePiece(picture, 3)?.aspect ?? 0];
    expect(Math.abs(wide / long - 1)).toBeGreaterThan(0.1);
  });

  it('is not made up where there is none', () => {
    const even = { widthPx: 640, heightPx: 480, luma: new Uint8Array(640 * 480).fill(120) };
    expect(seePiece(even)).toBeNull();
  });
});
