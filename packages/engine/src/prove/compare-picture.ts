import type { FrameTimes, MediaFacts, VideoPlan } from '@apodix/core';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { DecodeOutput } from '../inspect/measure-decode.ts';
import type { Witnesses } from '../make/make-video-input.ts';
import { buildVideoCut } from '../make/video-args.ts';
import type { PictureSource } from '../make/working-files.ts';
import { buildToolFault } from '../process/fail.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';
import { isKeptFrame, listKeptFrames, writeKeptFrames } from './kept-frames.ts';

export interface PictureInput {
  readonly madePath: string;
  readonly plan: VideoPlan;
  readonly take: { readonly path: string; readonly facts: MediaFacts };
  readonly frames: FrameTimes;
  readonly picture: PictureSource;
  readonly folder: string;
  readonly signal?: AbortSignal;
}

const LOG = 'likeness.log';

/** Likeness of one frame of the output. */
export interface FrameLikeness {
  readonly frame: number;
  readonly ssim: number;
}

/**
 * How the made file is compared, while it is decoded for its proof, with the frames of the cut source that were kept while it was made:
 * `numbers` are the frames that `readLikeness` then finds in the log.
 */
export function planWitnessComparison(
  plan: VideoPlan,
  witnesses: Witnesses,
  folder: string,
): { readonly output: DecodeOutput; readonly numbers: readonly number[] } {
  const { every } = witnesses;
  const isKept = (frame: number) => isKeptFrame(frame, every) || frame === plan.frameCount - 1;
  const files = witnesses.files
    .map((file) => ({
      ...file,
      count: Array.from({ length: file.last - file.first }, (_, index) => file.first + index).filter(isKept)
        .length,
    }))
    .filter((file) => file.count > 0);
  const numbers = Array.from({ length: plan.frameCount }, (_, frame) => frame).filter(isKept);
  const graph = [
    `[picture]select='${writeKeptFrames(every)}+eq(n,${plan.frameCount - 1})',format=yuv420p,settb=1/1000,setpts=N[made]`,
    ...files.map(
      (file, index) =>
        `[${index + 1}:v:0]trim=end_frame=${file.count},format=yuv420p,settb=1/1000,setpts=N[w${index}]`,
    ),
    `${files.map((_, index) => `[w${index}]`).join('')}concat=n=${files.length}:v=1:a=0,settb=1/1000,setpts=N[kept]`,
    `[made][kept]ssim=stats_file=${LOG}[likeness]`,
  ];
  return {
    numbers,
    output: {
      graph,
      args: ['-map', '[likeness]', '-fps_mode', 'passthrough', '-f', 'null', '-'],
      inputs: files.flatMap((file) => buildInputArgs(file.path, 'mkv')),
      folder,
      isPictureOnly: true,
    },
  };
}

/** Compares a stretch of the made file with the same stretch of the cut source: every frame, or about one in `every`. */
export async function compareWithSource(
  input: PictureInput,
  span: { first: number; last: number },
  every = 1,
): Promise<FrameLikeness[]> {
  const { plan, frames } = input;
  const previousFrameUs = frames.timesUs.findLast((timeUs) => timeUs < plan.keep.startUs) ?? null;
  const cut = buildVideoCut({
    picture: input.picture,
    take: input.take,
    plan,
    previousFrameUs,
    hasSound: false,
    span,
  });
  const numbers = listKeptFrames(every, span.first, span.last);
  const pick = every > 1 ? `select='${writeKeptFrames(every, span.first)}',` : '';
  const startS = (span.first * plan.frameRate.denominator) / plan.frameRate.numerator;
  const seekS = Math.max(0, startS - 3);
  // The made file is cut by time from a little before, then by its own frame numbers.
  const half = plan.frameRate.denominator / plan.frameRate.numerator / 2;
  const graph = [
    `[0:v:0]trim=start=${Math.max(0, startS - seekS - half).toFixed(6)},${pick}format=yuv420p,settb=1/1000,setpts=N,trim=end_frame=${numbers.length}[made]`,
    `${cut.graph.replaceAll('[0:v:0]', '[1:v:0]').replace(/\[v\]$/, '')},${pick}format=yuv420p,settb=1/1000,setpts=N[kept]`,
    `[made][kept]ssim=stats_file=${LOG}:shortest=1`,
  ];
  return runComparison(
    input,
    [
      ...(seekS > 0 ? ['-ss', seekS.toFixed(6)] : []),
      ...buildInputArgs(input.madePath, plan.container),
      ...cut.input,
    ],
    graph.join(';'),
    numbers,
  );
}

async function runComparison(
  input: PictureInput,
  inputs: readonly string[],
  graph: string,
  numbers: readonly number[],
): Promise<FrameLikeness[]> {
  const result = await runTool({
    tool: 'ffmpeg',
    args: [
      '-hide_banner',
      '-nostdin',
      '-loglevel',
      'warning',
      '-nostats',
      ...inputs,
      '-filter_complex',
      graph,
      '-f',
      'null',
      '-',
    ],
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  if (result.exitCode !== 0) throw buildToolFault(result, 'PROOF_FAILED');
  return readLikeness(input.folder, numbers);
}

/** Likeness by frame, from the log that a comparison left in its folder. */
export async function readLikeness(folder: string, numbers: readonly number[]): Promise<FrameLikeness[]> {
  const log = await readFile(join(folder, LOG), 'utf8').catch(() => '');
  return log
    .trim()
    .split('\n')
    .flatMap((line, index) => {
      const ssim = Number(/All:([\d.]+)/.exec(line)?.[1]);
      const frame = numbers[index];
      return Number.isFinite(ssim) && frame !== undefined ? [{ frame, ssim }] : [];
    });
}
