import { convertLightToLab, measureDeltaE, readLight, type Lab } from '../color/lab.ts';
import type { ColorSignatures } from '../series/evidence.ts';
import { mapPoints, type Stance } from './orient.ts';

/** What came of holding colors area by area. */
export interface ColorMatch {
  readonly picturesCompared: number;
  /** Color difference CIEDE2000 over all areas: its mean, and what a twentieth of the areas exceeds. */
  readonly meanDeltaE: number;
  readonly highDeltaE: number;
  /** The part of the picture that differs most over all pictures; its middle as shares of both edges. */
  readonly worstPart: { readonly x: number; readonly y: number; readonly deltaE: number } | null;
}

/** Pairs of a made picture and the source picture that it shows, by their places in both lists. */
export interface ColorPair {
  readonly output: number;
  readonly madeAt: number;
  readonly source: ColorSignatures;
  readonly sourceAt: number;
}

/** Areas of two by two points are compared: finer ones differ at every edge once a picture was scaled. */
const AREA_POINTS = 2;
/** Parts of the picture along each edge. */
const PARTS = 12;
const BINS = 400;
const BINS_PER_UNIT = 5;
const HIGH_SHARE = 0.95;

/** Compares the colors of made pictures with those of the recording, as a standard display shows both. */
export function holdColors(made: ColorSignatures, pairs: readonly ColorPair[], stance: Stance): ColorMatch {
  const areas = listAreas(made.widthPx, made.heightPx);
  const histogram = new Float64Array(BINS);
  const sums = new Float64Array(PARTS * PARTS);
  const counts = new Float64Array(PARTS * PARTS);
  const size = made.widthPx * made.heightPx;
  const maps = new Map<ColorSignatures, Int32Array>();
  for (const pair of pairs) {
    const map = maps.get(pair.source) ?? mapPoints(pair.source, stance);
    maps.set(pair.source, map);
    for (const { points, part } of areas) {
      const source = points.map((point) => map[point] ?? 0);
      const [sourceFrom, madeFrom] = [pair.sourceAt * size, pair.madeAt * size];
      // What was taken over is the same to the bit.
      const deltaE = isSame(pair.source.rgb, sourceFrom, source, made.rgb, madeFrom, points)
        ? 0
        : measureDeltaE(
            averageLab(pair.source.rgb, sourceFrom, source),
            averageLab(made.rgb, madeFrom, points),
          );
      const bin = Math.min(BINS - 1, Math.floor(deltaE * BINS_PER_UNIT));
      histogram[bin] = (histogram[bin] ?? 0) + 1;
      sums[part] = (sums[part] ?? 0) + deltaE;
      counts[part] = (counts[part] ?? 0) + 1;
    }
  }
  const count = counts.reduce((sum, each) => sum + each, 0);
  let [seen, bin] = [0, 0];
  while (bin < BINS - 1 && seen + (histogram[bin] ?? 0) < count * HIGH_SHARE) {
    seen += histogram[bin] ?? 0;
    bin += 1;
  }
  return {
    picturesCompared: pairs.length,
    meanDeltaE: count > 0 ? sums.reduce((sum, each) => sum + each, 0) / count : 0,
    highDeltaE: (bin + 1) / BINS_PER_UNIT,
    worstPart: findWorstPart(sums, counts),
  };
}

interface Area {
  readonly points: readonly number[];
  /** The part of the picture that it lies in. */
  readonly part: number;
}

function listAreas(widthPx: number, heightPx: number): Area[] {
  const areas: Area[] = [];
  for (let y = 0; y + AREA_POINTS <= heightPx; y += AREA_POINTS)
    for (let x = 0; x + AREA_POINTS <= widthPx; x += AREA_POINTS) {
      const first = y * widthPx + x;
      const [column, row] = [Math.floor((x * PARTS) / widthPx), Math.floor((y * PARTS) / heightPx)];
      areas.push({
        points: [first, first + 1, first + widthPx, first + widthPx + 1],
        part: row * PARTS + column,
      });
    }
  return areas;
}

function findWorstPart(sums: Float64Array, counts: Float64Array): ColorMatch['worstPart'] {
  let worst: ColorMatch['worstPart'] = null;
  for (let part = 0; part < sums.length; part += 1) {
    const count = counts[part] ?? 0;
    const deltaE = (sums[part] ?? 0) / count;
    if (count === 0 || (worst && deltaE <= worst.deltaE)) continue;
    worst = { x: ((part % PARTS) + 0.5) / PARTS, y: (Math.floor(part / PARTS) + 0.5) / PARTS, deltaE };
  }
  return worst;
}

function isSame(
  source: Uint8Array,
  sourceFrom: number,
  sourcePoints: readonly number[],
  made: Uint8Array,
  madeFrom: number,
  madePoints: readonly number[],
): boolean {
  for (let index = 0; index < madePoints.length; index += 1) {
    const at = (sourceFrom + (sourcePoints[index] ?? 0)) * 3;
    const own = (madeFrom + (madePoints[index] ?? 0)) * 3;
    for (let side = 0; side < 3; side += 1) if (source[at + side] !== made[own + side]) return false;
  }
  return true;
}

/** The color that an area has from afar: light adds up, not its code. */
function averageLab(rgb: Uint8Array, from: number, points: readonly number[]): Lab {
  let [red, green, blue] = [0, 0, 0];
  for (const point of points) {
    const at = (from + point) * 3;
    red += readLight(rgb[at] ?? 0);
    green += readLight(rgb[at + 1] ?? 0);
    blue += readLight(rgb[at + 2] ?? 0);
  }
  const { length } = points;
  return convertLightToLab(red / length, green / length, blue / length);
}
