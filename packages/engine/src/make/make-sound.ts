import { ApodixError, type SoundOnlyPlan, type VideoPlan } from '@apodix/core';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { writeGraph } from '../graph/filter-graph.ts';
import { readFfmpegProgress, type ProgressMeter } from '../process/progress.ts';
import { STRICT_ARGS } from '../process/quiet-args.ts';
import { runTool } from '../process/run-tool.ts';
import { readToolVersion } from '../process/tool-version.ts';
import { buildSoundCoderArgs } from './sound-args.ts';
import { FileContents, nameByContent } from './content-key.ts';
import { buildSoundCut, measureSamples } from './cut-sound.ts';
import type { MakeTakeInput } from './make-take-input.ts';

export interface MakeSoundInput extends MakeTakeInput {
  readonly plan: SoundOnlyPlan;
  readonly meter: ProgressMeter;
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
      ...STRICT_ARGS,
      '-progress',
      'pipe:1',
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

export interface SoundTrackInput extends MakeTakeInput {
  readonly plan: VideoPlan;
}

/**
 * Makes the sound of a video as a track of its own: in step with the cut picture, no longer than it.
 * `onShare` is told how much of it is there, 0 to 1.
 */
export async function makeSoundTrack(
  input: SoundTrackInput,
  outputPath: string,
  onShare: (share: number) => void = () => undefined,
): Promise<string> {
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: ['-progress', 'pipe:1', ...buildTrackArgs(input), '-y', outputPath],
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
    onStdoutLine: readFfmpegProgress(input.timeline.durationUs, onShare),
  });
  onShare(1);
  return outputPath;
}

/** Changed when sound tracks that were made before must not be used any more. */
const TRACK_VERSION = 1;

/**
 * Tells apart what sound tracks hold and how they are coded: all that making one reads, the command with the
 * content of files in place of where they lie. Throws a `TypeError` where it reads any other file.
 */
export async function describeSoundTrack(input: SoundTrackInput): Promise<string> {
  const contents = new FileContents();
  for (const { path, facts } of [input, input.separate, ...(input.joined ?? [])].filter((each) => !!each))
    contents.add(path, facts.sha256);
  return nameByContent([TRACK_VERSION, await readToolVersion(), contents.replaceIn(buildTrackArgs(input))]);
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
    ...STRICT_ARGS,
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
