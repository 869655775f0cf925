import { expect, it } from 'vitest';
import { moveCorner } from './move-corner.ts';

const square = [
  { x: 0.2, y: 0.2 },
  { x: 0.8, y: 0.2 },
  { x: 0.8, y: 0.8 },
  { x: 0.2, y: 0.8 },
] as const;

it('a corner goes where it is dragged, stays inside the picture, and never crosses the others', () => {
  expect(moveCorner(square, 1, { x: 0.9, y: 0.1 })[1]).toEqual({ x: 0.9, y: 0.1 });
  expect(moveCorner(square, 0, { x: -0.3, y: 0.1 })[0]).toEqual({ x: 0, y: 0.1 });
  expect(moveCorner(square, 0, { x: 0.9, y: 0.9 })).toBe(square);
  expect(moveCorner(square, 2, { x: 0.4, y: 0.4 })).toBe(square);
});
