import {
  ApodixError,
  type MediaFacts,
  type SoundOnlyPlan,
  type TakePlace,
  type Timeline,
  type VideoPlan,
} from '@apodix/core';
import { createHash } from 'node:crypto';
import { stat } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { writeGraph } from '../graph/filter-graph.ts';
import { readFfmpegProgress, type ProgressMeter } from '../process/progress.ts';
import { runTool } from '../process/run-tool.ts';
import { readToolVersion } from '../process/tool-version.ts';
import { buildSoundCoderArgs } from './sound-args.ts';
import { buildSoundCut, measureSamples, type SeparateFile } from './cut-sound.ts';
import type { JoinedFile } from '../gather/joined-files.ts';

export interface MakeSoundInput {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly plan: SoundOnlyPlan;
  readonly timeline: Timeline;
  readonly separate?: SeparateFile | null;
  readonly joined?: readonly JoinedFile[];
  readonly drawn?: readonly TakePlace[];
  readonly cardPath?: string | null;
  readonly folder: string;
  readonly meter: ProgressMeter;
  readonly signal?: AbortSignal;
}

/** Makes a sound file: cut to the sample, one gain, the wanted coding. */
export async function makeSound(input: MakeSoundInput): Promise<{ path: string }> {
  const { plan, folder, meter } = input;
  const path = join(folder, `sound.${plan.container}`);
  const { timeline } = input;
  const { durationUs } = timeline;
  const cut = buildSoundCut({
    take: input,
    separate: input.separate ?? null,
    timeline,
    sound: plan.sound,
    wish: plan.recipe.sound,
    sampleCount: plan.sampleCount,
    firstInput: 0,
  });
  meter.begin('Making the file', 0, 0.85);
  const format = { m4a: 'mp4', mp3: 'mp3', wav: 'wav', flac: 'flac', ogg: 'ogg' }[plan.container];
  await runTool({
    fault: 'MAKE_FAILED',
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
      ...cut.input,
      '-filter_complex',
      writeGraph(cut.chains),
      '-map',
      '[sound]',
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
  const sizeBytes = (await stat(path)).size;
  if (plan.maxBytes !== null && sizeBytes > plan.maxBytes)
    throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: `It came to ${sizeBytes} bytes.` });
  return { path };
}

export interface SoundTrackInput {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly plan: VideoPlan;
  readonly timeline: Timeline;
  readonly separate?: SeparateFile | null;
  readonly joined?: readonly JoinedFile[];
  readonly drawn?: readonly TakePlace[];
  readonly cardPath?: string | null;
  readonly folder: string;
  readonly signal?: AbortSignal;
}

/** Makes the sound of a video as a track of its own: in step with the cut picture, no longer than it. */
export async function makeSoundTrack(input: SoundTrackInput, outputPath: string): Promise<string> {
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [...buildTrackArgs(input), '-y', outputPath],
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  return outputPath;
}

/** Changed when sound tracks that were made before must not be used any more. */
const TRACK_VERSION = 1;

/**
 * Tells apart what sound tracks hold and how they are coded: all that making one reads, the command with the
 * content of files in place of where they lie. Throws a `TypeError` where it reads any other file.
 */
export async function describeSoundTrack(input: SoundTrackInput): Promise<string> {
  const files = [input, ...(input.separate ? [input.separate] : []), ...(input.joined ?? [])];
  const named = new Map(files.map(({ path, facts }) => [`file:${resolve(path)}`, facts.sha256]));
  const args = buildTrackArgs(input).map((each) => named.get(each) ?? each);
  if (args.some((each) => each.startsWith('file:')))
    throw new TypeError('A file whose content is not known.');
  const parts = [TRACK_VERSION, await readToolVersion(), args];
  return createHash('sha256').update(JSON.stringify(parts)).digest('hex').slice(0, 40);
}

function buildTrackArgs(input: SoundTrackInput): string[] {
  const { plan } = input;
  if (!plan.sound) throw new TypeError('The plan has no sound.');
  const cut = buildSoundCut({
    take: input,
    separate: input.separate ?? null,
    timeline: input.timeline,
    sound: plan.sound,
    wish: plan.cut.recipe.sound,
    sampleCount: measureSamples(plan.cut, plan.sound),
    firstInput: 0,
  });
  return [
    '-hide_banner',
    '-nostdin',
    '-loglevel',
    'warning',
    '-nostats',
    '-xerror',
    ...cut.input,
    '-filter_complex',
    writeGraph(cut.chains),
    '-map',
    '[sound]',
    ...buildSoundCoderArgs(plan.sound),
    '-map_metadata',
    '-1',
    '-fflags',
    '+bitexact',
    '-flags:a',
    '+bitexact',
    '-f',
    // MP4 holds no plain samples, and MOV no Opus.
    plan.sound.codec === 'pcm' ? 'mov' : 'mp4',
  ];
}
