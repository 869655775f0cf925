import { ApodixError, estimateOtherBytes, suggestNextRate, type FrameTimes, type MediaFacts, type RateTry, type VideoPlan } from '@apodix/core';
import { rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { BT709_TAGS } from '../bring-in/picture-filters.ts';
import { buildToolFault, throwIfCancelled } from '../process/fail.ts';
import { readFfmpegProgress, type ProgressMeter } from '../process/progress.ts';
import { runTool } from '../process/run-tool.ts';
import { buildVideoCut } from './video-args.ts';
import { choosePicture, type PictureSource, type WorkingFiles } from './working-files.ts';

export interface MakeVideoInput {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly frames: FrameTimes;
  readonly plan: VideoPlan;
  readonly working?: WorkingFiles | undefined;
  readonly folder: string;
  readonly meter: ProgressMeter;
  readonly signal?: AbortSignal;
}

/**
 * Two passes, from the intermediate where there is one, else from the take; then only the second again with a corrected rate until the
 * file stands close below its limit.
 * Gives the path of the best try that does not exceed the limit; throws `LIMITS_CANNOT_BE_MET` where there is none.
 */
export async function makeVideo(input: MakeVideoInput): Promise<{ path: string; tries: RateTry[] }> {
  const { plan, folder, meter } = input;
  const durationUs = (plan.frameCount * plan.frameRate.denominator * 1e6) / plan.frameRate.numerator;
  const otherBytes = estimateOtherBytes(plan.frameCount, durationUs, plan.sound);
  const logFile = join(folder, 'statistics');
  const tries: RateTry[] = [];
  const bestPath = join(folder, `best.${plan.container}`);
  let bestBytes = 0;

  meter.begin('Weighing every frame', 0, 0.3);
  const picture = choosePicture(input, plan, input.working);
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
  return { path: bestPath, tries };
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
      ...(isLast ? [...(plan.container === 'webm' ? [] : ['-movflags', '+faststart']), '-f', plan.container, '-y', pass.outputPath ?? ''] : ['-an', '-f', 'null', '-']),
    ],
    limits: { seconds: 1800 + durationUs / 20_000 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
    onStdoutLine: readFfmpegProgress(durationUs, (share) => input.meter.tell(share)),
  });
  if (result.exitCode !== 0) throw buildToolFault(result, 'MAKE_FAILED');
}

/**
 * H.264 High, closed groups of two seconds at most, or VP9; both BT.709 and constant rate. `faster` with adaptive quantisation by
 * variance of the whole frame is as clear at the same bytes as `medium` and takes about half its time (docs/decisions/004).
 */
function buildCoderArgs(plan: VideoPlan, pass: Pass): string[] {
  const rate = plan.frameRate.numerator / plan.frameRate.denominator;
  const group = String(Math.max(1, Math.floor(rate * 2)));
  const common = ['-b:v', String(pass.videoBps), '-g', group, ...BT709_TAGS, '-r', `${plan.frameRate.numerator}/${plan.frameRate.denominator}`];
  if (plan.videoCodec === 'vp9') {
    return ['-c:v', 'libvpx-vp9', '-deadline', 'good', '-cpu-used', pass.pass === 1 ? '4' : '2', '-row-mt', '1', '-tile-columns', '1', ...common];
  }
  const macroblocksPerSecond = Math.ceil(plan.widthPx / 16) * Math.ceil(plan.heightPx / 16) * rate;
  const isLevel41 = macroblocksPerSecond <= 245_760 && Math.ceil(plan.widthPx / 16) * Math.ceil(plan.heightPx / 16) <= 8192 && plan.usefulBps <= 50_000_000;
  return ['-c:v', 'libx264', '-preset', 'faster', '-aq-mode', '2', '-refs', '3', '-profile:v', 'high', ...(isLevel41 ? ['-level:v', '4.1'] : []), '-x264-params', 'open-gop=0', ...common];
}

export function buildSoundCoderArgs(sound: NonNullable<VideoPlan['sound']>): string[] {
  const coder = { aac: 'aac', mp3: 'libmp3lame', opus: 'libopus', flac: 'flac', pcm: 'pcm_s16le' }[sound.codec];
  return ['-c:a', coder, ...(sound.bitrateBps === null ? [] : ['-b:a', String(sound.bitrateBps)]), '-ar', String(sound.rateHz), '-ac', String(sound.channels)];
}
