import type { Quad } from '../geometry/projective.ts';
import type { RgbPicture } from './rgb-picture.ts';

/** No camera gives so much of a picture without any grain. */
const LEAST_FLAT = 0.5;
/** Edges of a window or a page on screen lie straight to a fraction of a point. */
const MOST_SLANT = 0.004;

/**
 * Whether a picture was drawn or captured on a screen rather than photographed: most of it is of exactly one
 * color with its neighbors, and whatever four-sided stands in it lies straight.
 */
export function isFromScreen(picture: RgbPicture, corners: Quad | null): boolean {
  if (corners && !isStraight(corners)) return false;
  return measureFlatShare(picture) >= LEAST_FLAT;
}

function isStraight([a, b, c, d]: Quad): boolean {
  return [a.y - b.y, d.y - c.y, a.x - d.x, b.x - c.x].every((off) => Math.abs(off) <= MOST_SLANT);
}

/** Share of points whose neighbors to the right and below are of exactly their color. */
function measureFlatShare({ widthPx, heightPx, bytes, bands }: RgbPicture): number {
  let flat = 0;
  for (let y = 0; y + 1 < heightPx; y += 1)
    for (let x = 0; x + 1 < widthPx; x += 1) {
      const at = (y * widthPx + x) * bands;
      const below = at + widthPx * bands;
      let isSame = true;
      for (let side = 0; side < 3 && isSame; side += 1)
        isSame = bytes[at + side] === bytes[at + bands + side] && bytes[at + side] === bytes[below + side];
      if (isSame) flat += 1;
    }
  return flat / Math.max(1, (widthPx - 1) * (heightPx - 1));
}
