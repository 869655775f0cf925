import type { Affine } from './frame.ts';

export interface Point {
  readonly x: number;
  readonly y: number;
}
/** Top left, top right, bottom right, bottom left. */
export type Quad = readonly [Point, Point, Point, Point];

/** x' = (a·x + b·y + c) / w, y' = (d·x + e·y + f) / w, w = g·x + h·y + i; row after row. */
export type Projective = readonly [number, number, number, number, number, number, number, number, number];

/** The map of the unit square onto four corners (P. Heckbert, Fundamentals of Texture Mapping, 1989). */
export function mapSquareTo([p, q, r, s]: Quad): Projective {
  const [dx1, dx2] = [q.x - r.x, s.x - r.x];
  const [dy1, dy2] = [q.y - r.y, s.y - r.y];
  const [sx, sy] = [p.x - q.x + r.x - s.x, p.y - q.y + r.y - s.y];
  const determinant = dx1 * dy2 - dx2 * dy1;
  if (Math.abs(determinant) < 1e-12) throw new RangeError('Three corners lie on one line.');
  const g = (sx * dy2 - sy * dx2) / determinant;
  const h = (dx1 * sy - dy1 * sx) / determinant;
  return [
    q.x - p.x + g * q.x,
    s.x - p.x + h * s.x,
    p.x,
    q.y - p.y + g * q.y,
    s.y - p.y + h * s.y,
    p.y,
    g,
    h,
    1,
  ];
}

/** The same map as a projective one. */
export const widenAffine = ({ a, b, c, d, e, f }: Affine): Projective => [a, c, e, b, d, f, 0, 0, 1];

/** The first map, and the second one after it. */
export function composeProjective(first: Projective, second: Projective): Projective {
  const cell = (row: number, column: number) =>
    [0, 1, 2].reduce((sum, at) => sum + (second[row * 3 + at] ?? 0) * (first[at * 3 + column] ?? 0), 0);
  return [0, 1, 2].flatMap((row) => [0, 1, 2].map((column) => cell(row, column))) as unknown as Projective;
}

/** Throws a `RangeError` where it cannot be undone. */
export function invertProjective([a, b, c, d, e, f, g, h, i]: Projective): Projective {
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (Math.abs(determinant) < 1e-15) throw new RangeError('The map has no inverse.');
  const cells = [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
  return cells.map((cell) => cell / determinant) as unknown as Projective;
}

export function applyProjective([a, b, c, d, e, f, g, h, i]: Projective, { x, y }: Point): Point {
  const w = g * x + h * y + i;
  return { x: (a * x + b * y + c) / w, y: (d * x + e * y + f) / w };
}

/** Whether a place lies within four corners that go round clockwise, or on their sides. */
export function isWithin(corners: Quad, { x, y }: Point): boolean {
  return corners.every((corner, index) => {
    const next = corners[((index + 1) % 4) as 0];
    return (next.x - corner.x) * (y - corner.y) - (next.y - corner.y) * (x - corner.x) >= 0;
  });
}
