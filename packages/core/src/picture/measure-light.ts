import type { RgbPicture } from './rgb-picture.ts';

/** How bright a picture is, and which way its grey leans. Brightness 0 to 255, shares 0 to 1. */
export interface LightFigures {
  readonly mean: number;
  /** A twentieth of the points is darker, a twentieth brighter. */
  readonly low: number;
  readonly high: number;
  /** Points at the top of all three channels: nothing is drawn there any more. */
  readonly burntShare: number;
  /** Points that are all but black. */
  readonly blackShare: number;
  /** Red against blue of the middle tones, 1 where they are equal. */
  readonly warmth: number;
}

const BURNT = 252;
const BLACK = 12;

/**
 * Measures every point; warmth by the points of middle brightness and little color, a "grey world" of near-
 * greys.
 */
export function measureLight(picture: RgbPicture): LightFigures {
  const { bytes, bands } = picture;
  const counts = new Uint32Array(256);
  let [burnt, black, red, blue, greys] = [0, 0, 0, 0, 0];
  const points = picture.widthPx * picture.heightPx;
  for (let at = 0; at < points * bands; at += bands) {
    const [r, g, b] = [bytes[at] ?? 0, bytes[at + 1] ?? 0, bytes[at + 2] ?? 0];
    const luma = (54 * r + 183 * g + 19 * b + 128) >> 8;
    counts[luma] = (counts[luma] ?? 0) + 1;
    if (r >= BURNT && g >= BURNT && b >= BURNT) burnt += 1;
    if (luma <= BLACK) black += 1;
    if (luma > 40 && luma < 235 && Math.max(r, g, b) - Math.min(r, g, b) < luma * 0.6) {
      red += r;
      blue += b;
      greys += 1;
    }
  }
  let sum = 0;
  for (let luma = 0; luma < 256; luma += 1) sum += luma * (counts[luma] ?? 0);
  return {
    mean: sum / Math.max(1, points),
    low: findPercentile(counts, points * 0.05),
    high: findPercentile(counts, points * 0.95),
    burntShare: burnt / Math.max(1, points),
    blackShare: black / Math.max(1, points),
    warmth: greys > points * 0.05 ? red / Math.max(1, blue) : 1,
  };
}

function findPercentile(counts: Uint32Array, wanted: number): number {
  let seen = 0;
  for (let value = 0; value < counts.length; value += 1) {
    seen += counts[value] ?? 0;
    if (seen > wanted) return value;
  }
  return counts.length - 1;
}
