import { describe, expect, it } from 'vitest';
import type { Quad } from '../geometry/projective.ts';
import { buildTableScene, drawPieceScene } from '../test-support/piece-scene.ts';
import { convertRgbToLuma } from './rgb-picture.ts';
import { snapCorners } from './snap-corners.ts';

describe('corners set by hand', () => {
  it.each([21, 22, 23, 24])('come to lie on the edges beside them (scene %i)', (seed) => {
    const scene = { ...buildTableScene(seed), noise: 2 };
    const truth = scene.corners.map(({ x, y }) => ({
      x: (x + 0.5) / scene.widthPx,
      y: (y + 0.5) / scene.heightPx,
    })) as unknown as Quad;
    const set = truth.map(({ x, y }, index) => ({
      x: x + (index % 2 === 0 ? 3 : -3) / scene.widthPx,
      y: y + (index < 2 ? 2 : -3) / scene.heightPx,
    })) as unknown as Quad;
    const found = snapCorners(convertRgbToLuma(drawPieceScene(scene)), set);
    found.forEach(({ x, y }, index) => {
      const wanted = truth[index as 0];
      expect(Math.abs(x - wanted.x) * scene.widthPx).toBeLessThan(0.8);
      expect(Math.abs(y - wanted.y) * scene.heightPx).toBeLessThan(0.8);
    });
  });

  it('stay where there is no edge', () => {
    const plain = { widthPx: 200, heightPx: 150, luma: new Uint8Array(200 * 150).fill(120) };
    const set = [
      { x: 0.2, y: 0.2 },
      { x: 0.8, y: 0.2 },
      { x: 0.8, y: 0.8 },
      { x: 0.2, y: 0.8 },
    ] as const;
    snapCorners(plain, set).forEach(({ x, y }, index) => {
      expect(x).toBeCloseTo(set[index as 0].x, 6);
      expect(y).toBeCloseTo(set[index as 0].y, 6);
    });
  });
});
