import { ApodixError, type Comparison, type VideoCut } from '@apodix/core';
import { readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Chain } from '../graph/filter-graph.ts';
import type { DecodeOutput } from '../inspect/measure-decode.ts';
import { isWitness, writeWitnessFrames, type Witnesses } from './witnesses.ts';

const LOG = 'likeness.log';
const LIST = 'witnesses.txt';
const WORST = 5;

/** Likeness of one frame of the output. */
export interface FrameLikeness {
  readonly frame: number;
  readonly ssim: number;
}

/**
 * How the made file is compared, while it is decoded for its proof, with the frames of the cut source that
 * were kept while it was made: `numbers` are the frames that `readLikeness` then finds in the log. Writes
 * into the folder in which files of kept frames are read one after the other.
 */
export async function planWitnessComparison(
  cut: Pick<VideoCut, 'frameCount'>,
  witnesses: Witnesses,
  folder: string,
): Promise<{ readonly output: DecodeOutput; readonly numbers: readonly number[] }> {
  const frames = Array.from({ length: cut.frameCount }, (_, frame) => frame);
  const files = witnesses.files.filter((file) =>
    frames.slice(file.first, file.last).some((frame) => isWitness(file, frame)),
  );
  const list = join(folder, LIST);
  await writeFile(list, files.map(({ path }) => `file '${basename(path)}'\n`).join(''));
  const even = ['format=yuv420p', 'settb=1/1000', 'setpts=N'];
  const chains: Chain[] = [
    { from: ['picture'], filters: [`select='${writeWitnessFrames(witnesses)}'`, ...even], to: ['made'] },
    { from: ['1:v:0'], filters: even, to: ['witness'] },
    { from: ['made', 'witness'], filters: [`ssim=stats_file=${LOG}`], to: ['likeness'] },
  ];
  return {
    numbers: frames.filter((frame) => files.some((file) => isWitness(file, frame))),
    output: {
      takes: ['picture'],
      chains,
      args: ['-map', '[likeness]', '-fps_mode', 'passthrough', '-f', 'null', '-'],
      inputs: ['-protocol_whitelist', 'file,pipe', '-f', 'concat', '-safe', '1', '-i', `file:${list}`],
      folder,
    },
  };
}

/**
 * Likeness by frame, from the log that a comparison left in its folder. Throws `PROOF_FAILED` where it left
 * none.
 */
export async function readLikeness(folder: string, numbers: readonly number[]): Promise<FrameLikeness[]> {
  const log = await readFile(join(folder, LOG), 'utf8').catch((cause: unknown) => {
    throw new ApodixError('PROOF_FAILED', { detail: 'Nothing was compared.', cause });
  });
  return log
    .trim()
    .split('\n')
    .flatMap((line, index) => {
      const ssim = Number(/All:([\d.]+)/.exec(line)?.[1]);
      const frame = numbers[index];
      return Number.isFinite(ssim) && frame !== undefined ? [{ frame, ssim }] : [];
    });
}

/** Mean likeness, and where it is worst; null where nothing was compared. */
export function summarizeLikeness(
  likeness: readonly FrameLikeness[],
  rate: number,
): NonNullable<Comparison['picture']> | null {
  if (likeness.length === 0) return null;
  const seconds = new Map<number, FrameLikeness[]>();
  for (const each of likeness) {
    const second = Math.floor(each.frame / rate + 1e-9);
    seconds.set(second, [...(seconds.get(second) ?? []), each]);
  }
  const worst = [...seconds]
    .map(([second, all]) => ({ atUs: second * 1_000_000, ssim: meanOf(all) }))
    .sort((left, right) => left.ssim - right.ssim)
    .slice(0, WORST);
  return {
    ssimMean: meanOf(likeness),
    ssimWorst: worst[0]?.ssim ?? 0,
    worstSeconds: worst,
    framesCompared: likeness.length,
  };
}

function meanOf(likeness: readonly FrameLikeness[]): number {
  return likeness.reduce((sum, each) => sum + each.ssim, 0) / Math.max(1, likeness.length);
}
