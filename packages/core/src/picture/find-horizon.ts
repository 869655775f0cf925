import { chooseLeastSlope, findLines, measureSlopes, measureTilt, type Slopes } from './find-lines.ts';
import type { LumaPicture } from './rgb-picture.ts';

/** Lines that are looked at. */
const LINES = 40;
/** So far about what lines say is looked for the best direction, in such steps, in degrees. */
const REACH_DEGREES = 2.5;
const STEP_DEGREES = 0.1;
/** An edge belongs to level or plumb lines where its slope points that close to them. */
const EDGE_DEGREES = 12;
/** Less than this nobody sees; more is meant. */
const LEAST_DEGREES = 0.4;
const MOST_DEGREES = 12;

/**
 * How far a picture leans, in degrees, clockwise positive, to a few tenths: by its level and plumb lines,
 * then by the direction about them along which edges gather most. null where none are found, where it hardly
 * leans, or leans so far that it is meant.
 */
export function findHorizon(picture: LumaPicture): number | null {
  const slopes = measureSlopes(picture);
  const least = chooseLeastSlope(slopes);
  const rough = measureTilt(findLines(slopes, LINES, least));
  if (rough === null) return null;
  const tilt = sharpen(slopes, rough, least);
  return Math.abs(tilt) < LEAST_DEGREES || Math.abs(tilt) > MOST_DEGREES ? null : tilt;
}

/** The direction along which edges gather on the fewest lines: steps of single points do not bias it. */
function sharpen(slopes: Slopes, about: number, least: number): number {
  const [plumb, level] = [listEdges(slopes, about, least, 0), listEdges(slopes, about, least, 90)];
  const reach = slopes.widthPx + slopes.heightPx;
  const bins = new Float64Array(2 * reach + 2);
  const scoreOf = (degrees: number) => {
    const angle = (degrees * Math.PI) / 180;
    return (
      gather(plumb, Math.cos(angle), Math.sin(angle), bins, reach) +
      gather(level, -Math.sin(angle), Math.cos(angle), bins, reach)
    );
  };
  const steps = Math.round(REACH_DEGREES / STEP_DEGREES);
  const scores = Array.from({ length: 2 * steps + 1 }, (_, index) =>
    scoreOf(about + (index - steps) * STEP_DEGREES),
  );
  const best = scores.indexOf(Math.max(...scores));
  const [before, here, after] = [scores[best - 1], scores[best] ?? 0, scores[best + 1]];
  const curve = before === undefined || after === undefined ? 0 : before - 2 * here + after;
  // A parabola through the best and its neighbours.
  const shift = curve < 0 ? (0.5 * ((before ?? 0) - (after ?? 0))) / curve : 0;
  return about + (best - steps + shift) * STEP_DEGREES;
}

/** Edge points, x and y and weight in a row, whose slopes point to `about` plus a quarter turn or none. */
function listEdges(slopes: Slopes, about: number, least: number, quarter: 0 | 90): Float32Array {
  const points: number[] = [];
  for (let at = 0; at < slopes.crest.length; at += 1) {
    const size = slopes.crest[at] ?? 0;
    if (size < least) continue;
    const degrees = (Math.atan2(slopes.alongY[at] ?? 0, slopes.alongX[at] ?? 0) * 180) / Math.PI;
    const away = ((((degrees - about - quarter + 90) % 180) + 180) % 180) - 90;
    if (Math.abs(away) > EDGE_DEGREES) continue;
    points.push(at % slopes.widthPx, Math.floor(at / slopes.widthPx), Math.min(size, 240));
  }
  return Float32Array.from(points);
}

/** Sum of the squares of what falls on each line of a direction, shared between neighbours. */
function gather(points: Float32Array, nx: number, ny: number, bins: Float64Array, reach: number): number {
  bins.fill(0);
  for (let at = 0; at < points.length; at += 3) {
    const offset = (points[at] as number) * nx + (points[at + 1] as number) * ny + reach;
    const bin = Math.floor(offset);
    const share = offset - bin;
    const weight = points[at + 2] as number;
    bins[bin] = (bins[bin] as number) + weight * (1 - share);
    bins[bin + 1] = (bins[bin + 1] as number) + weight * share;
  }
  let sum = 0;
  for (const each of bins) sum += each * each;
  return sum;
}
