import type { Point } from './projective.ts';
import type { SizePx } from './turn.ts';

/**
 * How a lens bends straight lines, by one factor (the first radial term of D. C. Brown, Decentering
 * distortion of lenses, 1966): what belongs at a distance r from the middle, in halves of the diagonal, is
 * seen at r · (1 + factor · r²). Below 0 lines bulge outward (barrel), above 0 inward (pincushion). As far as
 * it is allowed here it can be undone all over a picture and a tenth beyond.
 */
export const MOST_BEND = 0.12;

/** Where a place is seen through the lens, in points of the picture. */
export function bendPoint(factor: number, { widthPx, heightPx }: SizePx, { x, y }: Point): Point {
  if (factor === 0) return { x, y };
  const [dx, dy] = [x - widthPx / 2, y - heightPx / 2];
  const by = 1 + (factor * 4 * (dx * dx + dy * dy)) / (widthPx * widthPx + heightPx * heightPx);
  return { x: widthPx / 2 + dx * by, y: heightPx / 2 + dy * by };
}

const STEPS = 8;

/** Where what is seen at a place belongs: the inverse of `bendPoint` (I. Newton's steps on the distance). */
export function straightenPoint(factor: number, { widthPx, heightPx }: SizePx, { x, y }: Point): Point {
  const [dx, dy] = [x - widthPx / 2, y - heightPx / 2];
  const seen = (2 * Math.sqrt(dx * dx + dy * dy)) / Math.sqrt(widthPx * widthPx + heightPx * heightPx);
  if (factor === 0 || seen === 0) return { x, y };
  let own = seen;
  for (let step = 0; step < STEPS; step += 1)
    own -= (own + factor * own ** 3 - seen) / (1 + 3 * factor * own * own);
  return { x: widthPx / 2 + (dx * own) / seen, y: heightPx / 2 + (dy * own) / seen };
}
