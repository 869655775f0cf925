import type { SoundBlocks } from '../series/sound-blocks.ts';
import type { TimeRange } from '../time/range.ts';

/** How the sides of a take come out: as they are, mixed to one, or one of them alone. */
export type SideMix = 'as-recorded' | 'mono' | 'left' | 'right';

/** Level of some stretches of a sound. */
export interface SoundLevel {
  /** Integrated loudness (ITU-R BS.1770-4); null where it is silence or shorter than 0.4 s. */
  readonly loudnessLufs: number | null;
  /** Loudness range (EBU Tech 3342); null where there is too little to tell. */
  readonly loudnessRangeLu: number | null;
  /** Highest true peak; null where it is silence. */
  readonly truePeakDbtp: number | null;
  /** Flat tops at full scale: what was cut off there cannot be brought back. */
  readonly clippedCount: number;
}

/** BS.1770-4: a gating block has four blocks of a tenth of a second and starts at each of them. */
const GATING_BLOCKS = 4;
const ABSOLUTE_GATE_LUFS = -70;
const RELATIVE_GATE_LU = -10;
/**
 * EBU Tech 3342: short-term loudness over three seconds, a gate of its own, from the 10th to the 95th
 * percentile.
 */
const RANGE_BLOCKS = 30;
const RANGE_GATE_LU = -20;
const RANGE_PERCENTILES = [0.1, 0.95] as const;

const toLufs = (power: number) => -0.691 + 10 * Math.log10(Math.max(power, 1e-12));

/**
 * Level of the given stretches, in order, as if they stood behind one another; all of the sound without any.
 * Blocks that lie at least half inside a stretch count.
 */
export function measureSoundLevel(
  blocks: SoundBlocks,
  ranges: readonly TimeRange[] | null,
  mix: SideMix = 'as-recorded',
): SoundLevel {
  const indices = listBlocks(blocks, ranges);
  const power = indices.map((index) => readPower(blocks, index, mix));
  const peak = indices.reduce((highest, index) => Math.max(highest, blocks.peak[index] ?? 0), 0);
  const clippedCount = indices.reduce((sum, index) => sum + (blocks.clipped[index] ?? 0), 0);
  return {
    loudnessLufs: integrate(average(power, GATING_BLOCKS)),
    loudnessRangeLu: measureRange(average(power, RANGE_BLOCKS)),
    truePeakDbtp: peak > 0 ? 20 * Math.log10(peak) : null,
    clippedCount,
  };
}

/**
 * Level of the steady noise in dB below full scale: what a tenth of the blocks stays below, weighted as
 * loudness is. null where there is hardly anything, or digital silence.
 */
export function measureNoiseFloor(blocks: SoundBlocks): number | null {
  const power = Array.from(blocks.powerMix, (_, index) => readPower(blocks, index, 'mono'))
    .filter((each) => each > 1e-10)
    .sort((left, right) => left - right);
  const low = power[Math.floor(power.length / 10)];
  return low === undefined ? null : 10 * Math.log10(low);
}

/**
 * Short-term loudness (three seconds about each moment, EBU Tech 3341) at even steps of a range, in LUFS;
 * null where there is silence.
 */
export function measureLoudnessCourse(
  blocks: SoundBlocks,
  range: TimeRange,
  count: number,
  mix: SideMix = 'as-recorded',
): (number | null)[] {
  const sums = new Float64Array(blocks.peak.length + 1);
  for (let index = 0; index < blocks.peak.length; index += 1)
    sums[index + 1] = (sums[index] ?? 0) + readPower(blocks, index, mix);
  const stepUs = (range.finishUs - range.startUs) / Math.max(1, count);
  return Array.from({ length: count }, (_, step) => {
    const middle = (range.startUs + (step + 0.5) * stepUs - blocks.startUs) / blocks.blockUs;
    const first = Math.max(0, Math.round(middle - RANGE_BLOCKS / 2));
    const last = Math.min(blocks.peak.length, Math.round(middle + RANGE_BLOCKS / 2));
    if (last <= first) return null;
    const level = toLufs(((sums[last] ?? 0) - (sums[first] ?? 0)) / (last - first));
    return level > ABSOLUTE_GATE_LUFS ? level : null;
  });
}

function listBlocks(blocks: SoundBlocks, ranges: readonly TimeRange[] | null): number[] {
  const all = Array.from({ length: blocks.peak.length }, (_, index) => index);
  if (ranges === null) return all;
  return ranges.flatMap((range) =>
    all.filter((index) => {
      const middleUs = blocks.startUs + (index + 0.5) * blocks.blockUs;
      return middleUs >= range.startUs && middleUs < range.finishUs;
    }),
  );
}

/** The sum over the sides, each of weight 1; a single side counts once. */
function readPower(blocks: SoundBlocks, index: number, mix: SideMix): number {
  const [left, right] = [blocks.powerLeft[index] ?? 0, blocks.powerRight[index] ?? 0];
  if (mix === 'mono') return blocks.powerMix[index] ?? 0;
  if (mix === 'left' || (mix === 'right' && blocks.sides === 1)) return left;
  if (mix === 'right') return right;
  return blocks.sides === 1 ? left : left + right;
}

/**
 * Means over so many blocks, from each block on; none of what is shorter: neither figure is defined for that.
 */
function average(power: readonly number[], count: number): number[] {
  const means: number[] = [];
  let sum = 0;
  for (const [index, value] of power.entries()) {
    sum += value - (index >= count ? (power[index - count] ?? 0) : 0);
    if (index >= count - 1) means.push(Math.max(0, sum) / count);
  }
  return means;
}

const meanOf = (values: readonly number[]) =>
  values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);

function integrate(means: readonly number[]): number | null {
  const audible = means.filter((power) => toLufs(power) > ABSOLUTE_GATE_LUFS);
  if (audible.length === 0) return null;
  const gate = toLufs(meanOf(audible)) + RELATIVE_GATE_LU;
  return toLufs(meanOf(audible.filter((power) => toLufs(power) > gate)));
}

function measureRange(means: readonly number[]): number | null {
  const audible = means.filter((power) => toLufs(power) > ABSOLUTE_GATE_LUFS);
  if (audible.length < 2) return null;
  const gate = toLufs(meanOf(audible)) + RANGE_GATE_LU;
  const sorted = audible
    .map(toLufs)
    .filter((level) => level > gate)
    .sort((left, right) => left - right);
  const at = (share: number) => sorted[Math.round((sorted.length - 1) * share)] ?? 0;
  return sorted.length < 2 ? null : at(RANGE_PERCENTILES[1]) - at(RANGE_PERCENTILES[0]);
}
