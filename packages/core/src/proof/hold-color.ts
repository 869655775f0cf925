import { convertRgb8ToLab, measureDeltaE } from '../color/lab.ts';
import type { ColorSignatures } from '../series/evidence.ts';
import { mapPoints, type Stance } from './orient.ts';

/** What came of holding colors point by point. */
export interface ColorMatch {
  readonly picturesCompared: number;
  /** Color difference CIEDE2000 over all points: its mean, and what a twentieth of the points exceeds. */
  readonly meanDeltaE: number;
  readonly highDeltaE: number;
  /** The picture that differs most: its frame in the made file, and its own mean. */
  readonly worst: { readonly output: number; readonly deltaE: number } | null;
}

/** Pairs of a made picture and the source picture that it shows, by their places in both lists. */
export interface ColorPair {
  readonly output: number;
  readonly madeAt: number;
  readonly source: ColorSignatures;
  readonly sourceAt: number;
}

const BINS = 400;
const BINS_PER_UNIT = 5;
const HIGH_SHARE = 0.95;

/** Compares the colors of made pictures with those of the recording, as a standard display shows both. */
export function holdColors(made: ColorSignatures, pairs: readonly ColorPair[], stance: Stance): ColorMatch {
  const histogram = new Float64Array(BINS);
  let [total, count] = [0, 0];
  let worst: ColorMatch['worst'] = null;
  const maps = new Map<ColorSignatures, Int32Array>();
  for (const pair of pairs) {
    const map = maps.get(pair.source) ?? mapPoints(pair.source, stance);
    maps.set(pair.source, map);
    const size = map.length;
    let sum = 0;
    for (let point = 0; point < size; point += 1) {
      const madeFrom = (pair.madeAt * size + point) * 3;
      const sourceFrom = (pair.sourceAt * size + (map[point] ?? 0)) * 3;
      const deltaE = measureDeltaE(readLab(pair.source.rgb, sourceFrom), readLab(made.rgb, madeFrom));
      sum += deltaE;
      const bin = Math.min(BINS - 1, Math.floor(deltaE * BINS_PER_UNIT));
      histogram[bin] = (histogram[bin] ?? 0) + 1;
    }
    total += sum;
    count += size;
    const mean = sum / size;
    if (!worst || mean > worst.deltaE) worst = { output: pair.output, deltaE: mean };
  }
  let [seen, bin] = [0, 0];
  while (bin < BINS - 1 && seen + (histogram[bin] ?? 0) < count * HIGH_SHARE) {
    seen += histogram[bin] ?? 0;
    bin += 1;
  }
  return {
    picturesCompared: pairs.length,
    meanDeltaE: count > 0 ? total / count : 0,
    highDeltaE: (bin + 1) / BINS_PER_UNIT,
    worst,
  };
}

function readLab(rgb: Uint8Array, at: number) {
  return convertRgb8ToLab(rgb[at] ?? 0, rgb[at + 1] ?? 0, rgb[at + 2] ?? 0);
}
