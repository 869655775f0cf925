import { measureLuma } from '../color/standard-look.ts';
import type { ColorSignatures } from '../series/evidence.ts';
import type { ColorPair } from './hold-color.ts';
import { mapPoints, type Stance } from './orient.ts';

/** How a made picture lies against its source beyond turning: 0 everywhere where it lies just on it. */
export interface GeometryMatch {
  readonly picturesCompared: number;
  /** How much larger it shows everything, as a share, along each edge: a crop is above 0. */
  readonly zoomX: number;
  readonly zoomY: number;
  /** How far it is moved, as a share of the edge. */
  readonly shiftX: number;
  readonly shiftY: number;
  /** How far it is turned about its middle, clockwise, in radians. */
  readonly turn: number;
}

/** Five unknowns: zoom and shift along each edge, and a turn. */
const UNKNOWNS = 5;

/**
 * Least squares over all points of all pairs: the difference of the two pictures as a sum of what a small
 * zoom, a small shift along each edge and a small turn would do (optical flow of first order;
 * Lucas and Kanade 1981). Good
 * to a fifth of a point for what is moved by up to two points. null where nothing has edges.
 */
export function holdGeometry(
  made: ColorSignatures,
  pairs: readonly ColorPair[],
  stance: Stance,
): GeometryMatch | null {
  const { widthPx: w, heightPx: h } = made;
  const normal = new Float64Array(UNKNOWNS * UNKNOWNS);
  const right = new Float64Array(UNKNOWNS);
  const maps = new Map<ColorSignatures, Int32Array>();
  for (const pair of pairs) {
    const map = maps.get(pair.source) ?? mapPoints(pair.source, stance);
    maps.set(pair.source, map);
    if (map.length !== w * h) continue;
    addPicture(
      { w, h, normal, right },
      readLuma(pair.source.rgb, pair.sourceAt * map.length, map),
      readLuma(made.rgb, pair.madeAt * map.length, null, map.length),
    );
  }
  const solved = solve(normal, right);
  if (!solved) return null;
  const [zoomX = 0, zoomY = 0, shiftX = 0, shiftY = 0, turn = 0] = solved;
  return { picturesCompared: pairs.length, zoomX, zoomY, shiftX, shiftY, turn };
}

function readLuma(
  rgb: Uint8Array,
  from: number,
  map: Int32Array | null,
  length = map?.length ?? 0,
): Float32Array {
  const levels = new Float32Array(length);
  for (let point = 0; point < length; point += 1) {
    const at = (from + (map ? (map[point] as number) : point)) * 3;
    levels[point] = measureLuma(rgb[at] ?? 0, rgb[at + 1] ?? 0, rgb[at + 2] ?? 0);
  }
  return levels;
}

function measureMean(levels: Float32Array): number {
  let sum = 0;
  for (const level of levels) sum += level;
  return sum / levels.length;
}

interface Sums {
  readonly w: number;
  readonly h: number;
  readonly normal: Float64Array;
  readonly right: Float64Array;
}

function addPicture({ w, h, normal, right }: Sums, source: Float32Array, made: Float32Array): void {
  const shift = measureMean(made) - measureMean(source);
  const terms = new Float64Array(UNKNOWNS);
  for (let y = 1; y < h - 1; y += 1)
    for (let x = 1; x < w - 1; x += 1) {
      const at = y * w + x;
      const slopeX = (((source[at + 1] as number) - (source[at - 1] as number)) / 2) * w;
      const slopeY = (((source[at + w] as number) - (source[at - w] as number)) / 2) * h;
      if (slopeX === 0 && slopeY === 0) continue;
      // What is shown larger comes from nearer to the middle.
      terms[0] = -((x + 0.5) / w - 0.5) * slopeX;
      terms[1] = -((y + 0.5) / h - 0.5) * slopeY;
      terms[2] = -slopeX;
      terms[3] = -slopeY;
      terms[4] = (slopeX / w) * (y + 0.5 - h / 2) - (slopeY / h) * (x + 0.5 - w / 2);
      const difference = (made[at] as number) - shift - (source[at] as number);
      // The equations are the same on both sides of the diagonal: one half is summed, the other copied.
      for (let row = 0; row < UNKNOWNS; row += 1) {
        const own = terms[row] as number;
        right[row] = (right[row] as number) + own * difference;
        for (let column = row; column < UNKNOWNS; column += 1) {
          const place = row * UNKNOWNS + column;
          normal[place] = (normal[place] as number) + own * (terms[column] as number);
        }
      }
    }
  for (let row = 0; row < UNKNOWNS; row += 1)
    for (let column = 0; column < row; column += 1)
      normal[row * UNKNOWNS + column] = normal[column * UNKNOWNS + row] as number;
}

/** Gaussian elimination with pivots; null where the equations do not tell. */
function solve(normal: Float64Array, right: Float64Array): number[] | null {
  const rows = Array.from({ length: UNKNOWNS }, (_, row) => [
    ...normal.subarray(row * UNKNOWNS, (row + 1) * UNKNOWNS),
    right[row] ?? 0,
  ]);
  for (let step = 0; step < UNKNOWNS; step += 1) {
    const best = rows
      .slice(step)
      .reduce((left, each) => (Math.abs(each[step] ?? 0) > Math.abs(left[step] ?? 0) ? each : left));
    const pivot = best[step] ?? 0;
    if (Math.abs(pivot) < 1) return null;
    const place = rows.indexOf(best);
    [rows[step], rows[place]] = [best, rows[step] ?? best];
    for (const [index, row] of rows.entries()) {
      if (index === step) continue;
      const factor = (row[step] ?? 0) / pivot;
      rows[index] = row.map((value, column) => value - factor * (best[column] ?? 0));
    }
  }
  return rows.map((row, index) => (row[UNKNOWNS] ?? 0) / (row[index] ?? 1));
}
