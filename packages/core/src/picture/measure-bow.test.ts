import { describe, expect, it } from 'vitest';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { flattenSeen } from '../propose/propose-still.ts';
import {
  buildHeldScene,
  buildTableScene,
  drawPieceScene,
  type PieceScene,
} from '../test-support/piece-scene.ts';
import { findPiece } from './find-piece.ts';
import { planRender } from './plan-render.ts';
import { renderPicture } from './render-picture.ts';
import { convertRgbToLuma, type RgbPicture } from './rgb-picture.ts';
import { seePiece } from './see-piece.ts';

const seeds = Array.from({ length: 6 }, (_, index) => 300 + index);
const look = (picture: RgbPicture) => findPiece(convertRgbToLuma(picture));
const drawBent = (seed: number, bend: number) => drawPieceScene({ ...buildTableScene(seed), bend });

describe('sides that a lens bowed', () => {
  it.each([-0.04, 0.04])('are told with their factor, %s, and corners within 0.03 %', (bend) => {
    let told = 0;
    for (const seed of seeds) {
      const scene: PieceScene = buildTableScene(seed);
      const found = look(drawPieceScene({ ...scene, bend }));
      if (!found?.lens) continue;
      told += 1;
      expect(Math.abs(found.lens / bend - 1)).toBeLessThan(0.2);
      const half = Math.hypot(scene.widthPx, scene.heightPx) / 2;
      const [mx, my] = [(scene.widthPx - 1) / 2, (scene.heightPx - 1) / 2];
      scene.corners.forEach(({ x, y }, index) => {
        const by = 1 + bend * (Math.hypot(x - mx, y - my) / half) ** 2;
        const own = found.corners[index as 0];
        const off = Math.hypot(own.x - mx - (x - mx) * by, own.y - my - (y - my) * by);
        expect(off).toBeLessThan(0.0006 * half);
      });
    }
    expect(told).toBeGreaterThanOrEqual(5);
  });

  it('are straight where no lens bent them, on tables and held up', () => {
    for (const seed of seeds) {
      expect(look(drawBent(seed, 0))?.lens ?? 0).toBe(0);
      expect(look(drawPieceScene(buildHeldScene(seed)))?.lens ?? 0).toBe(0);
    }
  });

  it('are no work of a lens where the sheet curls: both bow the same way', () => {
    for (const seed of seeds) {
      const { widthPx, heightPx, bytes, bands } = drawBent(seed, 0);
      const curled = bytes.slice();
      for (let x = 0; x < widthPx; x += 1) {
        const down = 4 * (1 - (2 * (x / widthPx) - 1) ** 2);
        for (let y = 0; y < heightPx; y += 1) {
          const from = Math.max(0, y - down);
          const [top, part] = [Math.floor(from), from % 1];
          for (let band = 0; band < 3; band += 1) {
            const read = (line: number) =>
              bytes[(Math.min(heightPx - 1, line) * widthPx + x) * 3 + band] ?? 0;
            curled[(y * widthPx + x) * 3 + band] = (1 - part) * read(top) + part * read(top + 1);
          }
        }
      }
      expect(look({ widthPx, heightPx, bytes: curled, bands })?.lens ?? 0).toBe(0);
    }
  });

  it('come out straight: the piece is as it is without the lens', () => {
    const size = { widthPx: 300, heightPx: 400 };
    const make = (bend: number, isUndone: boolean) => {
      const source = drawPieceScene({ ...buildTableScene(301), bend, noise: 0, stripes: 0 });
      const seen = seePiece(convertRgbToLuma(source));
      if (!seen) throw new Error('No piece was found.');
      const { lens, ...flat } = flattenSeen({ ...seen, aspect: 0.75 });
      const flatten = { ...flat, ...(isUndone && lens !== undefined ? { lens } : {}) };
      const levels = Uint8Array.from(source.bytes);
      const wish = { ...createPlainRecipe().picture, flatten };
      return renderPicture(planRender(source, wish, size).fill({ ...source, levels, most: 255 }));
    };
    const measureOff = (left: Uint8Array, right: Uint8Array) =>
      left.reduce((sum, level, at) => sum + Math.abs(level - (right[at] ?? 0)), 0) / left.length;
    const straight = make(0, true);
    const undone = measureOff(make(-0.04, true), straight);
    expect(undone).toBeLessThan(0.5 * measureOff(make(-0.04, false), straight));
  });
});
