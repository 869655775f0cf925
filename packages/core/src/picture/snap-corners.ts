import type { Quad } from '../geometry/projective.ts';
import { layLine, refineCorners, type Corners } from './refine-corners.ts';
import { measureSlopes } from './find-lines.ts';
import type { LumaPicture } from './rgb-picture.ts';

const ROUNDS = 3;

/**
 * Corners that were set by hand, in shares of the edges, moved so that the sides between them lie on the
 * edges in the picture beside which they were set; where there is none a side stays. Meant for pictures of
 * about 500 points: edges within a hundredth of that are reached.
 */
export function snapCorners(picture: LumaPicture, corners: Quad): Quad {
  const { widthPx, heightPx } = picture;
  const slopes = measureSlopes(picture);
  let found = corners.map(({ x, y }) => ({
    x: x * widthPx - 0.5,
    y: y * heightPx - 0.5,
  })) as unknown as Corners;
  for (let round = 0; round < ROUNDS; round += 1) {
    const own = found;
    const sides = own.map((from, index) => layLine(from, own[((index + 1) % 4) as 0]));
    found = refineCorners(slopes, own, sides);
  }
  return found.map(({ x, y }) => ({ x: (x + 0.5) / widthPx, y: (y + 0.5) / heightPx })) as unknown as Quad;
}
