import { isWithin } from '../geometry/projective.ts';
import type { Corners } from './find-piece.ts';
import type { RgbPicture } from './rgb-picture.ts';

const SHINING = 250;
/** A shine is a spot; where more than this burns, the picture is too bright as a whole. */
const MOST = 0.3;
const STEP = 2;

/**
 * Share of the piece (or of the whole picture) that is burnt white although most of it is not: the lamp seen
 * in varnish, glass or wet ink. 0 where the whole is bright.
 */
export function measureGlare(
  { widthPx, heightPx, bytes, bands }: RgbPicture,
  corners: Corners | null,
): number {
  let [inside, burnt] = [0, 0];
  for (let y = 0; y < heightPx; y += STEP)
    for (let x = 0; x < widthPx; x += STEP) {
      if (corners && !isWithin(corners, { x, y })) continue;
      inside += 1;
      const at = (y * widthPx + x) * bands;
      if (Math.min(bytes[at] ?? 0, bytes[at + 1] ?? 0, bytes[at + 2] ?? 0) >= SHINING) burnt += 1;
    }
  const share = burnt / Math.max(1, inside);
  return share > MOST ? 0 : share;
}
