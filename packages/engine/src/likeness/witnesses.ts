import { measureFramesUs, type VideoCut } from '@apodix/core';
import type { Chain } from '../graph/filter-graph.ts';
import { writeKeptFrames } from './kept-frames.ts';

/**
 * Frames of the cut source that were kept without loss while the file was made, to tell how clear it came
 * out.
 */
export interface Witnesses {
  /** In the order of the output: of each file the kept frames from `first` up to before `last` count. */
  readonly files: readonly { readonly path: string; readonly first: number; readonly last: number }[];
  /** Every so many frames of the output one was kept, and the very last. */
  readonly every: number;
}

/** One frame in so many is kept: six a second of a short piece, two of a long one. */
export function chooseWitnessStep(rate: number, seconds: number): number {
  return Math.max(1, Math.floor(rate / (seconds <= 60 ? 6 : seconds <= 240 ? 3 : 2)));
}

/** Branches the frames to keep off a picture into `kept`, for an output that begins at frame `first`. */
export function branchWitnesses(
  from: string,
  to: string,
  cut: Pick<VideoCut, 'frameCount'>,
  every: number,
  first: number,
): Chain[] {
  const last = `eq(n+${first},${cut.frameCount - 1})`;
  return [
    { from: [from], filters: ['split=2'], to: [to, 'all'] },
    { from: ['all'], filters: [`select='${writeKeptFrames(every, first)}+${last}'`], to: ['kept'] },
  ];
}

/** Above this length the kept frames are packed more tightly, so that they do not fill the disk. */
const LOOSELY_PACKED_S = 60;

/** Keeps the pad `kept` without loss: quickly for a short piece, tightly for a long one. */
export function buildWitnessArgs(cut: Pick<VideoCut, 'frameCount' | 'frameRate'>, path: string): string[] {
  const seconds = measureFramesUs(cut) / 1e6;
  const coder =
    seconds <= LOOSELY_PACKED_S
      ? ['-c:v', 'utvideo']
      : ['-c:v', 'libx264', '-preset', 'ultrafast', '-qp', '0'];
  const form = ['-threads', '1', '-an', '-f', 'matroska', '-y', path];
  return ['-map', '[kept]', '-fps_mode', 'passthrough', ...coder, ...form];
}
