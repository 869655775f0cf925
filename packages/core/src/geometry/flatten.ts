import { z } from 'zod';
import { bendPoint, MOST_BEND, straightenPoint } from './lens.ts';
import { LEAST_ASPECT, mapToSource, MOST_ASPECT, type Framing } from './frame.ts';
import {
  applyProjective,
  composeProjective,
  mapSquareTo,
  widenAffine,
  type Point,
  type Projective,
  type Quad,
} from './projective.ts';
import type { SizePx } from './turn.ts';

/** Corners may lie a little beyond the picture, where a piece was cut off. */
const BEYOND = 0.1;
/** A corner of a piece, in shares of the picture's edges. */
export const Corner = z.strictObject({
  x: z
    .number()
    .min(-BEYOND)
    .max(1 + BEYOND),
  y: z
    .number()
    .min(-BEYOND)
    .max(1 + BEYOND),
});
/** A side shorter than this share of the picture's edge leaves no piece to be seen. */
const LEAST_SIDE = 0.05;

/** The four corners of a flat piece in a photograph, in shares of its edges. */
export const Flatten = z
  .strictObject({
    /** Top left, top right, bottom right, bottom left. */
    corners: z.tuple([Corner, Corner, Corner, Corner]),
    /** Width to height of the piece; null where perspective tells. */
    aspect: z.number().min(LEAST_ASPECT).max(MOST_ASPECT).nullable(),
    /** Factor by which the lens bent what is straight (`bendPoint`); none where it is not there. */
    lens: z.number().min(-MOST_BEND).max(MOST_BEND).optional(),
  })
  .refine(({ corners }) => isConvex(corners), {
    message: 'The corners have to go round the piece, without crossing.',
  });
export type Flatten = z.infer<typeof Flatten>;

/** Whether four corners go round clockwise on screen, none of them on the line through its neighbours. */
export function isConvex(corners: Quad): boolean {
  return corners.every((corner, index) => {
    const [next, last] = [corners[(index + 1) % 4], corners[(index + 3) % 4]];
    if (!next || !last) return false;
    const [ux, uy, vx, vy] = [next.x - corner.x, next.y - corner.y, last.x - corner.x, last.y - corner.y];
    const side = Math.sqrt(ux * ux + uy * uy);
    return side >= LEAST_SIDE && ux * vy - uy * vx > 1e-4;
  });
}

/** Phone cameras see about as much as 26 mm does on 36 mm wide film. */
const USUAL_FOCAL = 26 / 36;
/** A focal length out of these, in shares of the longer edge, is a rounding of corners rather than a lens. */
const FOCAL_BOUNDS = [0.45, 4] as const;

/**
 * Width to height of a rectangle whose corners are seen in perspective, in points of the picture (Z. Zhang,
 * L.-W. He, Whiteboard scanning and image enhancement, 2007). The lens is told from the corners where they
 * converge enough, else it is `focal` in shares of the longer edge, or a phone's.
 */
export function recoverAspect(corners: Quad, size: SizePx, focal: number | null = null): number {
  const long = Math.max(size.widthPx, size.heightPx);
  const [m1, m2, m4, m3] = corners.map(({ x, y }) => [
    (x - size.widthPx / 2) / long,
    (y - size.heightPx / 2) / long,
    1,
  ]) as unknown as [Vector, Vector, Vector, Vector];
  const diagonal = cross(m1, m4);
  const k2 = dot(diagonal, m3) / dot(cross(m2, m4), m3);
  const k3 = dot(diagonal, m2) / dot(cross(m3, m4), m2);
  const n2 = [k2 * m2[0] - m1[0], k2 * m2[1] - m1[1], k2 - 1] as const;
  const n3 = [k3 * m3[0] - m1[0], k3 * m3[1] - m1[1], k3 - 1] as const;
  const squared = -(n2[0] * n3[0] + n2[1] * n3[1]) / (n2[2] * n3[2]);
  const own = Math.sqrt(squared);
  const isTold = Number.isFinite(own) && own >= FOCAL_BOUNDS[0] && own <= FOCAL_BOUNDS[1];
  const f = focal ?? (isTold && isSteep(n2[2], n3[2]) ? own : USUAL_FOCAL);
  const length = (n: readonly [number, number, number]) =>
    Math.sqrt((n[0] ** 2 + n[1] ** 2) / f ** 2 + n[2] ** 2);
  return length(n2) / length(n3);
}

/** Both pairs of sides have to converge clearly: else rounding of the corners tells the lens. */
const LEAST_CONVERGENCE = 0.02;
const isSteep = (first: number, second: number) =>
  Math.abs(first) >= LEAST_CONVERGENCE && Math.abs(second) >= LEAST_CONVERGENCE;

type Vector = readonly [number, number, number];
const cross = (u: Vector, v: Vector): Vector => [
  u[1] * v[2] - u[2] * v[1],
  u[2] * v[0] - u[0] * v[2],
  u[0] * v[1] - u[1] * v[0],
];
const dot = (u: Vector, v: Vector) => u[0] * v[0] + u[1] * v[1] + u[2] * v[2];

/** Its corners where a lens that bends nothing would have seen them, in points of the photograph. */
const toPoints = (flatten: Flatten, size: SizePx): Quad =>
  flatten.corners.map(({ x, y }) =>
    straightenPoint(flatten.lens ?? 0, size, { x: x * size.widthPx, y: y * size.heightPx }),
  ) as unknown as Quad;

/**
 * How large a flattened piece is, in points of the photograph: as long as its longer sides, in its true
 * proportions; not rounded. The photograph itself where nothing is flattened.
 */
export function flatSize(
  size: SizePx,
  flatten: Flatten | null | undefined,
  focal: number | null = null,
): SizePx {
  if (!flatten) return size;
  const [p, q, r, s] = toPoints(flatten, size);
  const length = (from: Point, to: Point) => Math.sqrt((to.x - from.x) ** 2 + (to.y - from.y) ** 2);
  const across = Math.max(length(p, q), length(s, r));
  const down = Math.max(length(p, s), length(q, r));
  const aspect = flatten.aspect ?? recoverAspect([p, q, r, s], size, focal);
  // As many points as the finer direction has.
  const heightPx = Math.max(down, across / aspect);
  return { widthPx: heightPx * aspect, heightPx };
}

type FlatFraming = Framing & { readonly flatten?: Flatten | null };

/**
 * Where in an upright photograph, in its own points, something of the result lies, in shares of its edges:
 * flattened first, then turned, mirrored, straightened and cut to a part; as a lens that bends nothing would
 * have seen it. `findInPhoto` has the lens too.
 */
export function mapToPhoto(size: SizePx, wish: FlatFraming, focal: number | null = null): Projective {
  const { flatten } = wish;
  const flat = flatSize(size, flatten, focal);
  const framed = widenAffine(mapToSource(flat, wish));
  if (!flatten) return framed;
  const toSquare: Projective = [1 / flat.widthPx, 0, 0, 0, 1 / flat.heightPx, 0, 0, 0, 1];
  const square = composeProjective(framed, toSquare);
  return composeProjective(square, mapSquareTo(toPoints(flatten, size)));
}

/** The same through the lens: where each place of the result is seen in the photograph, in its points. */
export function findInPhoto(size: SizePx, wish: FlatFraming): (place: Point) => Point {
  const map = mapToPhoto(size, wish);
  const lens = wish.flatten?.lens ?? 0;
  return (place) => bendPoint(lens, size, applyProjective(map, place));
}
