import { Flatten, recoverAspect } from '../geometry/flatten.ts';
import type { Quad } from '../geometry/projective.ts';
import { straightenPoint } from '../geometry/lens.ts';
import { LEAST_ASPECT, MOST_ASPECT } from '../geometry/frame.ts';
import type { SeenPiece } from '../media/facts.ts';
import { findPiece, LEAST_CONFIDENCE } from './find-piece.ts';
import type { LumaPicture } from './rgb-picture.ts';

/**
 * The flat piece in a photograph, in shares of its edges, with the proportions that it has itself; null where
 * none stands out, or where what does is no shape that could be flattened. Meant for pictures of 640 points;
 * `focal` is the length of the lens in shares of the longer edge.
 */
export function seePiece(picture: LumaPicture, focal: number | null = null): SeenPiece | null {
  const found = findPiece(picture);
  if (!found || found.confidence < LEAST_CONFIDENCE) return null;
  const { widthPx, heightPx } = picture;
  // Middles of points are whole numbers there, edges of the picture are here.
  const share = (value: number, edge: number) => Math.max(0, Math.min(1, (value + 0.5) / edge));
  const corners = found.corners.map(({ x, y }) => ({ x: share(x, widthPx), y: share(y, heightPx) }));
  const inPoints = corners.map(({ x, y }) =>
    straightenPoint(found.lens, picture, { x: x * widthPx, y: y * heightPx }),
  ) as unknown as Quad;
  const aspect = Math.max(LEAST_ASPECT, Math.min(MOST_ASPECT, recoverAspect(inPoints, picture, focal)));
  const parsed = Flatten.safeParse({ corners, aspect });
  if (!parsed.success) return null;
  const { confidence, touches } = found;
  return {
    corners: parsed.data.corners,
    aspect,
    confidence,
    isCutOff: touches.length > 0,
    ...(found.lens === 0 ? {} : { lens: found.lens }),
  };
}
