import { isConvex, type Point, type Quad } from '@apodix/core';

/** The same corners, one of them elsewhere; as they were where they would cross. */
export function moveCorner(corners: Quad, index: number, to: Point): Quad {
  const inside = { x: Math.max(0, Math.min(1, to.x)), y: Math.max(0, Math.min(1, to.y)) };
  const moved = corners.map((corner, each) => (each === index ? inside : corner)) as unknown as Quad;
  return isConvex(moved) ? moved : corners;
}
