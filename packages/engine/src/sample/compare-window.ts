import type { Rational, SampleWay, SizePx } from '@apodix/core';
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { splitPicture, writeGraph, type Chain } from '../graph/filter-graph.ts';
import { writeFrameNumbers } from '../graph/select-frames.ts';
import { listKeptFrames, writeKeptFrames } from '../likeness/kept-frames.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';
import { QUIET_ARGS } from '../process/quiet-args.ts';

/** Likeness is measured on about one frame in so many. */
export const COMPARED_EVERY = 5;

export interface Way extends SampleWay {
  readonly size: SizePx;
}

/** A window that was coded: `way-N.mp4` for each way, and `kept.mkv` with the frames to compare them with. */
export interface CodedWindow {
  /** Of the recording. */
  readonly rate: Rational;
  readonly reference: SizePx;
  readonly ways: readonly Way[];
  readonly frameCount: number;
  readonly folder: string;
  readonly signal?: AbortSignal;
}

/** Likeness of every way to the kept frames: at the size of the reference, and at its own. */
export async function compareWindow(
  input: CodedWindow,
): Promise<{ readonly atReference: number[]; readonly atOwnSize: number[] }> {
  const { rate, reference, ways, frameCount, folder } = input;
  const isReference = (way: Way) =>
    way.size.widthPx === reference.widthPx &&
    way.size.heightPx === reference.heightPx &&
    way.rateDivisor === 1;
  const smaller = ways.map((way, index) => ({ way, index })).filter(({ way }) => !isReference(way));
  const even = ['format=yuv420p', 'settb=1/1000', 'setpts=N'];
  const kept = listKeptFrames(COMPARED_EVERY, 0, frameCount);
  const evenKept = writeFrameNumbers(kept.flatMap((frame, index) => (frame % 2 === 0 ? [index] : [])));
  const toSize = (size: SizePx, flags: string) => `scale=${size.widthPx}:${size.heightPx}:flags=${flags}`;
  const select = (step: number) => `select='${writeKeptFrames(COMPARED_EVERY, 0, step)}'`;
  const compare = (left: string, right: string, log: string, to: string): Chain => ({
    from: [left, right],
    filters: [`ssim=stats_file=${log}:shortest=1`],
    to: [to],
  });
  const chains: Chain[] = [
    splitPicture(
      '0:v',
      [...ways.map((_, index) => `r${index}`), ...smaller.map(({ index }) => `q${index}`)],
      even,
    ),
    ...ways.flatMap((way, index): Chain[] => {
      const coded = `${index + 1}:v`;
      const isWhole = isReference(way);
      const fill = way.rateDivisor === 2 ? [`fps=${rate.numerator}/${rate.denominator}:round=down`] : [];
      return [
        ...(isWhole ? [] : [splitPicture(coded, [`o${index}`, `s${index}`])]),
        {
          from: [isWhole ? coded : `s${index}`],
          filters: [...fill, select(1), toSize(reference, 'bicubic'), ...even],
          to: [`m${index}`],
        },
        compare(`m${index}`, `r${index}`, `way-${index}.log`, `x${index}`),
      ];
    }),
    // At half the frames only those of the kept ones are there that have even numbers.
    ...smaller.flatMap(({ way, index }): Chain[] => [
      { from: [`o${index}`], filters: [select(way.rateDivisor), ...even], to: [`n${index}`] },
      {
        from: [`q${index}`],
        filters: [
          ...(way.rateDivisor === 2 ? [`select='${evenKept}'`] : []),
          toSize(way.size, 'bicubic+accurate_rnd'),
          ...even,
        ],
        to: [`p${index}`],
      },
      compare(`n${index}`, `p${index}`, `own-${index}.log`, `y${index}`),
    ]),
  ];
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      ...QUIET_ARGS,
      ...buildInputArgs(join(folder, 'kept.mkv'), 'mkv'),
      ...ways.flatMap((_, index) => buildInputArgs(join(folder, `way-${index}.mp4`), 'mp4')),
      '-filter_complex',
      writeGraph(chains),
      ...ways.flatMap((_, index) => ['-map', `[x${index}]`, '-f', 'null', '-']),
      ...smaller.flatMap(({ index }) => ['-map', `[y${index}]`, '-f', 'null', '-']),
    ],
    limits: { seconds: 1200, memoryBytes: 9_000_000_000 },
    cwd: folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  const read = async (name: string) => {
    const log = await readFile(join(folder, name), 'utf8');
    await rm(join(folder, name), { force: true });
    const values = [...log.matchAll(/All:([\d.]+)/g)].map((match) => Number(match[1]));
    return values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
  };
  const atReference = await Promise.all(ways.map((_, index) => read(`way-${index}.log`)));
  const atOwnSize = await Promise.all(
    ways.map(async (way, index) => (isReference(way) ? (atReference[index] ?? 0) : read(`own-${index}.log`))),
  );
  return { atReference, atOwnSize };
}
