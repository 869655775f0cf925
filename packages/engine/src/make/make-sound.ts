import {
  ApodixError,
  measureFramesUs,
  measureRangeUs,
  type MediaFacts,
  type SoundOnlyPlan,
  type VideoPlan,
} from '@apodix/core';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { buildToolFault } from '../process/fail.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { readFfmpegProgress, type ProgressMeter } from '../process/progress.ts';
import { runTool } from '../process/run-tool.ts';
import { buildSoundCoderArgs } from './sound-args.ts';
import { buildSoundChain, measureSamples } from './video-args.ts';

export interface MakeSoundInput {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly plan: SoundOnlyPlan;
  readonly folder: string;
  readonly meter: ProgressMeter;
  readonly signal?: AbortSignal;
}

/** Makes a sound file: cut to the sample, one gain, the wanted coding. */
export async function makeSound(input: MakeSoundInput): Promise<{ path: string }> {
  const { plan, folder, meter, facts } = input;
  const path = join(folder, `sound.${plan.container}`);
  const durationUs = measureRangeUs(plan.keep);
  const all = Math.floor((durationUs * plan.sound.rateHz) / 1e6);
  const samples = plan.sound.codec === 'aac' && all > 1024 ? Math.floor(all / 1024) * 1024 : all;
  meter.begin('Making the file', 0, 0.85);
  const format = { m4a: 'mp4', mp3: 'mp3', wav: 'wav', flac: 'flac', ogg: 'ogg' }[plan.container];
  const result = await runTool({
    tool: 'ffmpeg',
    args: [
      '-hide_banner',
      '-nostdin',
      '-loglevel',
      'warning',
      '-nostats',
      '-progress',
      'pipe:1',
      '-xerror',
      ...buildInputArgs(input.path, facts.container),
      '-filter_complex',
      `[0:a:0]${buildSoundChain(plan.sound, plan.keep.startUs / 1e6, samples).join(',')}[a]`,
      '-map',
      '[a]',
      ...buildSoundCoderArgs(plan.sound),
      '-map_metadata',
      '-1',
      '-map_chapters',
      '-1',
      '-fflags',
      '+bitexact',
      '-flags:a',
      '+bitexact',
      ...(plan.container === 'm4a' ? ['-movflags', '+faststart', '-brand', 'M4A '] : []),
      ...(plan.container === 'mp3' ? ['-id3v2_version', '0'] : []),
      '-f',
      format,
      '-y',
      path,
    ],
    cwd: folder,
    ...(input.signal ? { signal: input.signal } : {}),
    onStdoutLine: readFfmpegProgress(durationUs, (share) => meter.tell(share)),
  });
  if (result.exitCode !== 0) throw buildToolFault(result, 'MAKE_FAILED');
  const sizeBytes = (await stat(path)).size;
  if (plan.maxBytes !== null && sizeBytes > plan.maxBytes)
    throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: `It came to ${sizeBytes} bytes.` });
  return { path };
}

/** Makes the sound of a video as a track of its own: in step with the cut picture, no longer than it. */
export async function makeSoundTrack(
  input: {
    readonly path: string;
    readonly facts: MediaFacts;
    readonly plan: VideoPlan;
    readonly folder: string;
    readonly signal?: AbortSignal;
  },
  outputPath: string,
): Promise<string> {
  const { plan, facts } = input;
  if (!plan.sound) throw new TypeError('The plan has no sound.');
  const seekUs = Math.max(0, plan.keep.startUs - 3_000_000);
  const durationUs = measureFramesUs(plan);
  const result = await runTool({
    tool: 'ffmpeg',
    args: [
      '-hide_banner',
      '-nostdin',
      '-loglevel',
      'warning',
      '-nostats',
      '-xerror',
      ...(seekUs > 0 ? ['-ss', (seekUs / 1e6).toFixed(6)] : []),
      '-t',
      ((durationUs + 4_000_000) / 1e6).toFixed(3),
      ...buildInputArgs(input.path, facts.container),
      '-vn',
      '-filter_complex',
      `[0:a:0]${buildSoundChain(plan.sound, (plan.keep.startUs - seekUs) / 1e6, measureSamples(plan)).join(',')}[a]`,
      '-map',
      '[a]',
      ...buildSoundCoderArgs(plan.sound),
      '-map_metadata',
      '-1',
      '-fflags',
      '+bitexact',
      '-flags:a',
      '+bitexact',
      '-f',
      'mp4',
      '-y',
      outputPath,
    ],
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  if (result.exitCode !== 0) throw buildToolFault(result, 'MAKE_FAILED');
  return outputPath;
}
