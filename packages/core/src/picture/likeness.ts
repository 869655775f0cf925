import { shrinkLuma, type LumaPicture } from './rgb-picture.ts';

const EDGE = 32;
const KEPT = 8;
/** Bits of 64 in which pictures of the same thing may differ; unrelated ones differ in about 32. */
const MOST_DIFFERENT = 6;

/**
 * How a picture looks, as 16 hexadecimal digits: the signs of its 64 slowest waves against their median
 * (a perceptual hash by the discrete cosine transform; C. Zauner, 2010). Another size, another coding or
 * another exposure leaves nearly all of them. null for a picture too plain to tell.
 */
export function measureLikeness(picture: LumaPicture): string | null {
  if (picture.widthPx < EDGE || picture.heightPx < EDGE) return null;
  const { luma } = shrinkLuma(picture, { widthPx: EDGE, heightPx: EDGE });
  const waves: number[] = [];
  for (let v = 0; v < KEPT; v += 1)
    for (let u = 0; u < KEPT; u += 1) {
      let sum = 0;
      for (let y = 0; y < EDGE; y += 1)
        for (let x = 0; x < EDGE; x += 1) sum += (luma[y * EDGE + x] ?? 0) * wave(x, u + 1) * wave(y, v + 1);
      waves.push(sum / (EDGE * EDGE));
    }
  const median = [...waves].sort((left, right) => left - right)[waves.length / 2] ?? 0;
  const spread = Math.sqrt(waves.reduce((sum, value) => sum + (value - median) ** 2, 0) / waves.length);
  if (spread < 0.3) return null;
  let hex = '';
  for (let at = 0; at < waves.length; at += 4)
    hex += [0, 1, 2, 3]
      .reduce((sum, bit) => sum * 2 + ((waves[at + bit] ?? 0) > median ? 1 : 0), 0)
      .toString(16);
  return hex;
}

const wave = (at: number, turns: number) => Math.cos((Math.PI * turns * (2 * at + 1)) / (2 * EDGE));

/** Bits in which two likenesses differ, 0 to 64. */
export function countDifferentBits(left: string, right: string): number {
  let count = 0;
  for (let at = 0; at < left.length; at += 1) {
    let bits = parseInt(left[at] ?? '0', 16) ^ parseInt(right[at] ?? '0', 16);
    for (; bits > 0; bits >>= 1) count += bits & 1;
  }
  return count;
}

/** Whether two pictures are the same or nearly so; false where one of them cannot be told. */
export function isAlike(left: string | null, right: string | null): boolean {
  return (
    left !== null &&
    right !== null &&
    left.length === right.length &&
    countDifferentBits(left, right) <= MOST_DIFFERENT
  );
}
