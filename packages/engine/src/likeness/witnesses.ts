import type { Chain } from '../graph/filter-graph.ts';
import { isKeptFrame, writeKeptFrames } from './kept-frames.ts';

/** Which frames of a stretch are kept. */
export interface WitnessPattern {
  /** About one frame in so many. */
  readonly every: number;
  /** The number of the first frame of the stretch, in the count that the pattern goes by. */
  readonly first: number;
  /** Frame of the stretch, counted from 0, that is kept in any case; null for none. */
  readonly surely: number | null;
}

/** A file of kept frames of the output frames from `first` up to before `last`. */
export interface WitnessFile {
  readonly path: string;
  readonly first: number;
  readonly last: number;
  readonly pattern: WitnessPattern;
}

/**
 * Frames of the cut source that were kept without loss while the file was made, to tell how clear it came
 * out: all of them, in the order of the output.
 */
export interface Witnesses {
  readonly files: readonly WitnessFile[];
}

/** One frame in so many is kept: four a second of a short piece, two of a long one. */
export function chooseWitnessStep(rate: number, seconds: number): number {
  return Math.max(1, Math.floor(rate / (seconds <= 60 ? 4 : 2)));
}

/** Whether a frame of the output is among those that a file holds. */
export function isWitness({ first, last, pattern }: WitnessFile, frame: number): boolean {
  if (frame < first || frame >= last) return false;
  return isKeptFrame(pattern.first + frame - first, pattern.every) || frame - first === pattern.surely;
}

/** Branches the frames to keep off the picture of a stretch into `kept`. */
export function branchWitnesses(from: string, to: string, pattern: WitnessPattern): Chain[] {
  const surely = pattern.surely === null ? '' : `+eq(n,${pattern.surely})`;
  return [
    { from: [from], filters: ['split=2'], to: [to, 'all'] },
    {
      from: ['all'],
      filters: [`select='${writeKeptFrames(pattern.every, pattern.first)}${surely}'`],
      to: ['kept'],
    },
  ];
}

/** An expression of FFmpeg's `select` for the frames of the whole output that files hold. */
export function writeWitnessFrames({ files }: Witnesses): string {
  const runs: { first: number; last: number; shift: number; every: number }[] = [];
  for (const { first, last, pattern } of files) {
    const shift = pattern.first - first;
    const before = runs.at(-1);
    if (before?.shift === shift && before.every === pattern.every && before.last === first)
      before.last = last;
    else runs.push({ first, last, shift, every: pattern.every });
  }
  const surely = files.flatMap(({ first, pattern }) =>
    pattern.surely === null ? [] : [`eq(n,${first + pattern.surely})`],
  );
  return [
    ...runs.map(
      ({ first, last, shift, every }) => `between(n,${first},${last - 1})*${writeKeptFrames(every, shift)}`,
    ),
    ...surely,
  ].join('+');
}

/**
 * Keeps the pad `kept` without loss, by Huffman codes of differences alone: a quarter of the computing of
 * H.264 without loss to write, half of it to read, one and a half times its bytes.
 */
export function buildWitnessArgs(path: string): string[] {
  const coder = ['-c:v', 'utvideo', '-pred', 'left'];
  const form = ['-threads', '1', '-an', '-f', 'matroska', '-y', path];
  return ['-map', '[kept]', '-fps_mode', 'passthrough', ...coder, ...form];
}
