import { ApodixError, type VideoPlan } from '@apodix/core';
import { writeGraph } from '../graph/filter-graph.ts';
import { rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { BT709_TAGS } from '../picture/picture-filters.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';
import { QUIET_ARGS, STRICT_ARGS } from '../process/quiet-args.ts';
import { readTimescale } from './code-piece.ts';
import { joinPieces } from './join-pieces.ts';
import { mergeParameterSets } from './merge-parameter-sets.ts';
import { makeSoundTrack } from './make-sound.ts';
import { COPIED_SHARE, type MakeVideoInput } from './make-video-input.ts';
import { buildPictureCut, CUT_PAD } from './cut-picture.ts';
import type { PictureSource } from './working-files.ts';

export interface CopiedVideo {
  readonly path: string;
  /** Frames at either end that were coded anew. */
  readonly recoded: { readonly head: number; readonly tail: number };
}

/**
 * Takes the coded picture of the recording over: whole, or from the first keyframe of the kept part to the
 * last, with the frames before and after coded anew in the same form. Gives null where that cannot be done
 * safely; the caller then codes everything.
 */
export async function copyVideo(input: MakeVideoInput, picture: PictureSource): Promise<CopiedVideo | null> {
  return input.plan.method === 'rewrap' ? rewrap(input) : cutAtEdges(input, picture);
}

async function rewrap(input: MakeVideoInput): Promise<CopiedVideo | null> {
  const { plan, folder } = input;
  input.meter.begin('Wrapping it anew', 0, COPIED_SHARE);
  const soundPath =
    plan.sound && !plan.sound.isCopied ? await makeSoundTrack(input, join(folder, 'sound.m4a')) : null;
  const path = join(folder, `best.${plan.container}`);
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      ...QUIET_ARGS,
      ...buildInputArgs(input.path, input.facts.container),
      ...(soundPath ? buildInputArgs(soundPath, 'm4a') : []),
      '-map',
      `0:${input.facts.video?.streamIndex ?? 0}`,
      ...(soundPath
        ? ['-map', '1:a:0']
        : plan.sound
          ? ['-map', `0:${input.facts.sound?.streamIndex ?? 1}`]
          : []),
      '-c',
      'copy',
      ...CLEAN,
      '-video_track_timescale',
      String(readTimescale(plan.cut)),
      '-movflags',
      '+faststart',
      '-f',
      plan.container,
      '-y',
      path,
    ],
    cwd: folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  return (await isWithin(path, plan)) ? { path, recoded: { head: 0, tail: 0 } } : null;
}

/** Nothing of the recording but its streams, and no note of what coded it. */
const CLEAN = [
  '-map_metadata',
  '-1',
  '-map_chapters',
  '-1',
  '-fflags',
  '+bitexact',
  '-bsf:v',
  'filter_units=remove_types=6',
] as const;

async function cutAtEdges(input: MakeVideoInput, picture: PictureSource): Promise<CopiedVideo | null> {
  const { plan, frames, folder, facts } = input;
  const span = input.timeline.spans[0];
  if (!span || input.timeline.spans.length > 1) return null;
  const [first, last] = [span.firstFrame, span.lastFrame];
  const keys = input.series.keyframesUs
    .map((timeUs) => frames.timesUs.indexOf(timeUs))
    .filter((index) => index >= 0);
  const from = keys.find((key) => key >= first);
  // Frames from the last keyframe on are coded anew, unless the kept part goes to the end of the take.
  const to = last >= frames.timesUs.length ? last : keys.findLast((key) => key <= last);
  if (from === undefined || to === undefined || to - from < Math.max(2, (last - first) * 0.3)) return null;
  input.meter.begin('Cutting without coding again', 0, COPIED_SHARE);
  const pieces: { path: string; frameCount: number }[] = [];
  const soundPath = plan.sound
    ? await makeSoundTrack(
        { ...input, plan: { ...plan, sound: { ...plan.sound, isCopied: false } } },
        join(folder, 'sound.m4a'),
      )
    : null;
  if (from > first)
    pieces.push({
      path: await codeEdge(input, picture, { first: 0, last: from - first }, join(folder, 'head.mp4')),
      frameCount: from - first,
    });
  pieces.push({ path: await copyMiddle(input, from, to, keys), frameCount: to - from });
  if (last > to)
    pieces.push({
      path: await codeEdge(
        input,
        picture,
        { first: to - first, last: last - first },
        join(folder, 'tail.mp4'),
      ),
      frameCount: last - to,
    });
  const path = join(folder, `cut.${plan.container}`);
  await joinPieces({
    pieces,
    soundPath,
    plan,
    folder,
    outputPath: path,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  if (pieces.length > 1)
    await mergeParameterSets(
      path,
      pieces.map((piece) => piece.path),
    );
  if (facts.video?.codec !== 'h264' || !(await isWithin(path, plan))) return null;
  const best = join(folder, `best.${plan.container}`);
  await rename(path, best);
  await Promise.all(pieces.map((piece) => rm(piece.path, { force: true })));
  return { path: best, recoded: { head: from - first, tail: last - to } };
}

/** Copies the groups from one keyframe to before another into a file of their own. */
async function copyMiddle(
  input: MakeVideoInput,
  from: number,
  to: number,
  keys: readonly number[],
): Promise<string> {
  const { frames, plan, folder } = input;
  // The segment muxer cuts at the first keyframe not before a given packet; packets and frames count alike at
  // closed keyframes.
  const isFromStart = keys[0] === from;
  const cuts = [...(isFromStart ? [] : [from]), ...(to < frames.timesUs.length ? [to] : [])];
  const pattern = join(folder, 'middle-%d.mp4');
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      ...QUIET_ARGS,
      ...buildInputArgs(input.path, input.facts.container),
      '-map',
      `0:${input.facts.video?.streamIndex ?? 0}`,
      '-c',
      'copy',
      ...CLEAN,
      '-f',
      'segment',
      '-segment_format',
      'mp4',
      '-segment_format_options',
      `video_track_timescale=${readTimescale(plan.cut)}`,
      '-reset_timestamps',
      '1',
      '-segment_frames',
      cuts.length > 0 ? cuts.join(',') : String(frames.timesUs.length + 1),
      '-y',
      pattern,
    ],
    cwd: folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  return join(folder, `middle-${isFromStart ? 0 : 1}.mp4`);
}

/**
 * Codes the frames at one end in the form of the stream that they are joined to, so well that nothing of them
 * is lost.
 */
async function codeEdge(
  input: MakeVideoInput,
  picture: PictureSource,
  span: { first: number; last: number },
  path: string,
): Promise<string> {
  const { plan, frames, folder, facts } = input;
  const { timeline } = input;
  const made = buildPictureCut({ picture, take: input, cut: plan.cut, timeline, frames, span });
  const profile = { High: 'high', Main: 'main' }[facts.video?.profile ?? ''] ?? 'baseline';
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      ...STRICT_ARGS,
      ...made.input,
      '-filter_complex',
      writeGraph(made.chains),
      '-map',
      `[${CUT_PAD}]`,
      '-c:v',
      'libx264',
      '-preset',
      'medium',
      '-crf',
      '14',
      '-x264-params',
      'sps-id=3:open-gop=0',
      '-profile:v',
      profile,
      ...(facts.video?.level ? ['-level:v', facts.video.level] : []),
      ...BT709_TAGS,
      '-r',
      `${plan.cut.frameRate.numerator}/${plan.cut.frameRate.denominator}`,
      '-an',
      '-fflags',
      '+bitexact',
      '-flags:v',
      '+bitexact+cgop',
      '-bsf:v',
      'filter_units=remove_types=6',
      '-video_track_timescale',
      String(readTimescale(plan.cut)),
      '-f',
      'mp4',
      '-y',
      path,
    ],
    cwd: folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  return path;
}

async function isWithin(path: string, plan: VideoPlan): Promise<boolean> {
  const { size } = await stat(path);
  if (size === 0) throw new ApodixError('MAKE_FAILED');
  return plan.rate.maxBytes === null || size <= plan.rate.maxBytes;
}
