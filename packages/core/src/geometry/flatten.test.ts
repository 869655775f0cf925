import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { findInPhoto, Flatten, flatSize, isConvex, mapToPhoto, recoverAspect } from './flatten.ts';
import {
  applyProjective,
  composeProjective,
  invertProjective,
  mapSquareTo,
  type Point,
  type Quad,
} from './projective.ts';

const size = { widthPx: 4000, heightPx: 3000 };

/** Corners of a sheet, `w` by `h`, seen by a pinhole camera that leans: by rotations alone. */
function photograph(w: number, h: number, focal: number, leanX: number, leanY: number, turn: number): Quad {
  const rotate = (x: number, y: number, z: number): [number, number, number] => {
    const [ct, st] = [Math.cos(turn), Math.sin(turn)];
    const [x1, y1] = [ct * x - st * y, st * x + ct * y];
    const [cx, sx] = [Math.cos(leanX), Math.sin(leanX)];
    const [y2, z2] = [cx * y1 - sx * z, sx * y1 + cx * z];
    const [cy, sy] = [Math.cos(leanY), Math.sin(leanY)];
    return [cy * x1 + sy * z2, y2, -sy * x1 + cy * z2];
  };
  const away = 2.2;
  return (
    [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ] as const
  ).map(([sx, sy]): Point => {
    const [x, y, z] = rotate((sx * w) / 2, (sy * h) / 2, 0);
    const scale = (focal * size.widthPx) / (away + z);
    return { x: size.widthPx / 2 + x * scale, y: size.heightPx / 2 + y * scale };
  }) as unknown as Quad;
}
const inShares = (corners: Quad) =>
  corners.map(({ x, y }) => ({ x: x / size.widthPx, y: y / size.heightPx })) as unknown as Flatten['corners'];

describe('a piece seen at a slant', () => {
  it.each([
    [1, 1.414, 0.72, 0.4, 0.3, 0.05],
    [1.414, 1, 0.9, -0.5, 0.2, -0.1],
    [1, 1, 0.72, 0.3, -0.45, 0.2],
    [0.8, 1.2, 1.4, 0.5, 0.5, 0],
  ])('%f by %f has its true proportions back within 1 %%', (w, h, focal, leanX, leanY, turn) => {
    const corners = photograph(w, h, focal, leanX, leanY, turn);
    expect(Math.abs(recoverAspect(corners, size) / (w / h) - 1)).toBeLessThan(0.001);
    // Corners that are off by two points each.
    const rough = corners.map(({ x, y }, index) => ({
      x: x + 2 * (index % 2 === 0 ? 1 : -1),
      y: y - 2 * (index < 2 ? 1 : -1),
    })) as unknown as Quad;
    expect(Math.abs(recoverAspect(rough, size) / (w / h) - 1)).toBeLessThan(0.015);
  });

  it.each([0, 0.05, 0.1])('nearly from the front (%f) a phone is assumed', (lean) => {
    const corners = photograph(1, 1.4, 0.72, lean, 0, 0);
    expect(Math.abs(recoverAspect(corners, size) * 1.4 - 1)).toBeLessThan(0.003);
    // With the lens known it does not matter which one it was.
    const tele = photograph(1, 1.4, 2, 3 * lean, 0, 0);
    expect(Math.abs(recoverAspect(tele, size, 2) * 1.4 - 1)).toBeLessThan(1e-9);
  });

  it('becomes as large as its longer sides, and its corners the corners of the result', () => {
    const corners = photograph(1, 1.25, 0.72, 0.35, 0.2, 0.1);
    const flatten = { corners: inShares(corners), aspect: null };
    const flat = flatSize(size, flatten);
    expect(flat.widthPx / flat.heightPx).toBeCloseTo(0.8, 3);
    const { picture } = createPlainRecipe();
    const map = mapToPhoto(size, { ...picture, flatten });
    const at = (x: number, y: number) => applyProjective(map, { x, y });
    for (const [index, [u, v]] of (
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ] as const
    ).entries()) {
      expect(at(u, v).x).toBeCloseTo(corners[index as 0].x, 6);
      expect(at(u, v).y).toBeCloseTo(corners[index as 0].y, 6);
    }
    // Turned clockwise, what was bottom left comes to the top left.
    const turned = mapToPhoto(size, { ...picture, turnDegrees: 90, flatten });
    expect(applyProjective(turned, { x: 0, y: 0 }).x).toBeCloseTo(corners[3].x, 6);
    expect(flatSize(size, { ...flatten, aspect: 2 }).widthPx).toBeCloseTo(
      2 * flatSize(size, { ...flatten, aspect: 2 }).heightPx,
      9,
    );
    expect(flatSize(size, null)).toBe(size);
  });

  it('is found through the lens: its corners where they were seen, the rest bent between them', () => {
    // All corners lie as far from the middle as the edges' halves: 0.3² + 0.4² of 1, seen 1 % nearer.
    const seen = 0.5 * 0.99;
    const corners = [
      { x: 0.5 - seen / 2, y: 0.5 - seen / 2 },
      { x: 0.5 + seen / 2, y: 0.5 - seen / 2 },
      { x: 0.5 + seen / 2, y: 0.5 + seen / 2 },
      { x: 0.5 - seen / 2, y: 0.5 + seen / 2 },
    ] as const;
    const flatten = Flatten.parse({ corners, aspect: 4 / 3, lens: -0.04 });
    const find = findInPhoto(size, { ...createPlainRecipe().picture, flatten });
    expect(find({ x: 0, y: 0 }).x).toBeCloseTo(size.widthPx * corners[0].x, 6);
    expect(find({ x: 1, y: 1 }).y).toBeCloseTo(size.heightPx * corners[2].y, 6);
    // The middle of the upper side belongs at a quarter of the height: 750 points of 2500, r² = 0.09.
    expect(find({ x: 0.5, y: 0 }).x).toBeCloseTo(2000, 6);
    expect(find({ x: 0.5, y: 0 }).y).toBeCloseTo(1500 - 750 * (1 - 0.04 * 0.09), 6);
    expect(Flatten.safeParse({ corners, aspect: null, lens: 0.3 }).success).toBe(false);
  });

  it('is refused where its corners cross or lie on one line', () => {
    const square = [
      { x: 0.1, y: 0.1 },
      { x: 0.9, y: 0.1 },
      { x: 0.9, y: 0.9 },
      { x: 0.1, y: 0.9 },
    ] as const;
    expect(isConvex(square)).toBe(true);
    const [a, b, c, d] = square;
    for (const corners of [
      [a, c, b, d],
      [b, a, d, c],
      [a, b, { x: 0.5, y: 0.1 }, d],
      [a, a, c, d],
    ] as const)
      expect(Flatten.safeParse({ corners, aspect: null }).success).toBe(false);
    expect(() => mapSquareTo([a, a, a, d])).toThrow(RangeError);
  });

  it('goes there and back for any four corners that go round', () => {
    const part = (from: number) => fc.double({ min: from, max: from + 0.4, noNaN: true });
    const corner = (x: number, y: number) => fc.record({ x: part(x), y: part(y) });
    fc.assert(
      fc.property(
        fc.tuple(corner(0, 0), corner(0.6, 0), corner(0.6, 0.6), corner(0, 0.6)),
        fc.record({
          x: fc.double({ min: 0, max: 1, noNaN: true }),
          y: fc.double({ min: 0, max: 1, noNaN: true }),
        }),
        (corners, point) => {
          fc.pre(isConvex(corners));
          const map = mapSquareTo(corners);
          const back = applyProjective(composeProjective(map, invertProjective(map)), point);
          expect(back.x).toBeCloseTo(point.x, 6);
          expect(back.y).toBeCloseTo(point.y, 6);
        },
      ),
    );
  });
});
