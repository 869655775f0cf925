import { ApodixError, estimateOtherBytes, suggestNextRate, type RateTry, type VideoPlan } from '@apodix/core';
import { rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { BT709_TAGS } from '../bring-in/picture-filters.ts';
import { buildToolFault, throwIfCancelled } from '../process/fail.ts';
import { readFfmpegProgress } from '../process/progress.ts';
import { runTool } from '../process/run-tool.ts';
import type { MakeVideoInput } from './make-video-input.ts';
import { buildSoundCoderArgs } from './sound-args.ts';
import { buildVideoCut } from './video-args.ts';
import type { PictureSource } from './working-files.ts';

/**
 * VP9 in two passes; then only the second again with a corrected rate until the file stands close below its limit. Gives the path of
 * the best try that does not exceed the limit; throws `LIMITS_CANNOT_BE_MET` where there is none.
 */
export async function makeInTwoPasses(input: MakeVideoInput, picture: PictureSource): Promise<{ path: string }> {
  const { plan, folder, meter } = input;
  const durationUs = (plan.frameCount * plan.frameRate.denominator * 1e6) / plan.frameRate.numerator;
  const otherBytes = estimateOtherBytes(plan.frameCount, durationUs, plan.sound);
  const logFile = join(folder, 'statistics');
  const tries: RateTry[] = [];
  const bestPath = join(folder, `best.${plan.container}`);
  let bestBytes = 0;

  meter.begin('Weighing every frame', 0, 0.3);
  await runPass(input, { pass: 1, videoBps: plan.videoBps, logFile, outputPath: null, picture });
  let videoBps: number | null = plan.videoBps;
  while (videoBps !== null) {
    throwIfCancelled(input.signal);
    const tryPath = join(folder, `try-${tries.length}.${plan.container}`);
    meter.begin(tries.length === 0 ? 'Making the file' : 'Making it fit more closely', tries.length === 0 ? 0.3 : 0.82, 0.85);
    await runPass(input, { pass: 2, videoBps, logFile, outputPath: tryPath, picture });
    const sizeBytes = (await stat(tryPath)).size;
    tries.push({ videoBps, sizeBytes });
    if ((plan.maxBytes === null || sizeBytes <= plan.maxBytes) && sizeBytes > bestBytes) {
      await rename(tryPath, bestPath);
      bestBytes = sizeBytes;
    } else await rm(tryPath, { force: true });
    videoBps = plan.maxBytes === null ? null : suggestNextRate(tries, plan.maxBytes, otherBytes, plan.usefulBps);
  }
  if (bestBytes === 0) throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: `The smallest try had ${Math.min(...tries.map((each) => each.sizeBytes))} bytes.` });
  return { path: bestPath };
}

interface Pass {
  readonly pass: 1 | 2;
  readonly videoBps: number;
  readonly logFile: string;
  readonly outputPath: string | null;
  readonly picture: PictureSource;
}

async function runPass(input: MakeVideoInput, pass: Pass): Promise<void> {
  const { plan, frames } = input;
  const previousFrameUs = frames.timesUs.findLast((timeUs) => timeUs < plan.keep.startUs) ?? null;
  const isLast = pass.outputPath !== null;
  const { input: inputArgs, graph } = buildVideoCut({ picture: pass.picture, take: input, plan, previousFrameUs, hasSound: isLast });
  const durationUs = (plan.frameCount * plan.frameRate.denominator * 1e6) / plan.frameRate.numerator;
  const result = await runTool({
    tool: 'ffmpeg',
    args: [
      '-hide_banner', '-nostdin', '-loglevel', 'warning', '-nostats', '-progress', 'pipe:1', '-xerror',
      ...inputArgs,
      '-filter_complex', graph,
      '-map', '[v]', ...buildCoderArgs(plan, pass), '-pass', String(pass.pass), '-passlogfile', pass.logFile,
      ...(isLast && plan.sound ? ['-map', '[a]', ...buildSoundCoderArgs(plan.sound)] : []),
      '-map_metadata', '-1', '-map_chapters', '-1', '-fflags', '+bitexact', '-flags:v', '+bitexact+cgop', '-flags:a', '+bitexact',
      ...(isLast ? ['-f', plan.container, '-y', pass.outputPath ?? ''] : ['-an', '-f', 'null', '-']),
    ],
    limits: { seconds: 1800 + durationUs / 20_000 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
    onStdoutLine: readFfmpegProgress(durationUs, (share) => input.meter.tell(share)),
  });
  if (result.exitCode !== 0) throw buildToolFault(result, 'MAKE_FAILED');
}

/** VP9 at constant rate, closed groups of two seconds at most, BT.709. */
function buildCoderArgs(plan: VideoPlan, pass: Pass): string[] {
  const rate = plan.frameRate.numerator / plan.frameRate.denominator;
  const group = String(Math.max(1, Math.floor(rate * 2)));
  return [
    '-c:v', 'libvpx-vp9', '-deadline', 'good', '-cpu-used', pass.pass === 1 ? '4' : '2', '-row-mt', '1', '-tile-columns', '1', '-threads', '2',
    '-b:v', String(pass.videoBps), '-g', group, ...BT709_TAGS, '-r', `${plan.frameRate.numerator}/${plan.frameRate.denominator}`,
  ];
}
