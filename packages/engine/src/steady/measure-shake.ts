import {
  addUpShake,
  ApodixError,
  fitSizeInside,
  type MediaFacts,
  type Recipe,
  type ShakeCourse,
  type TakeSeries,
} from '@apodix/core';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { buildInputArgs } from '../process/input-args.ts';
import { readFfmpegProgress } from '../process/progress.ts';
import { runTool } from '../process/run-tool.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';

/** The longer edge of the pictures in which movement is looked for. */
const EDGE_PX = 640;
/** Hands shake by less than a hundredth of the picture from frame to frame. */
const DETECT = 'shakiness=7:accuracy=15:stepsize=6:mincontrast=0.2';
const COURSE = 'shake.trf';
/** What the second pass of the filter writes beside it. */
const MOTIONS = 'global_motions.trf';
const QUIET = ['-hide_banner', '-nostdin', '-loglevel', 'error', '-nostats'] as const;

/**
 * How the picture of a take moves from frame to frame, by vid.stab's first pass over all of it. Works in a
 * folder of its own. Throws `MAKE_FAILED` where it tells of another number of frames than the take has.
 */
export async function measureShake(input: {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly frameCount: number;
  readonly folder: string;
  readonly signal?: AbortSignal;
  readonly onShare?: (share: number) => void;
}): Promise<ShakeCourse> {
  const { facts, folder, frameCount } = input;
  const { video } = facts;
  if (!video) throw new ApodixError('BAD_REQUEST', { detail: 'There is no picture that could shake.' });
  const even = (px: number) => Math.max(2, Math.round(px / 2) * 2);
  const fitted = fitSizeInside(video, { longEdgePx: EDGE_PX });
  const [w, h] = [even(fitted.widthPx), even(fitted.heightPx)];
  const limits = { seconds: 1800 + (facts.durationUs ?? 0) / 50_000 };
  const common = { fault: 'MAKE_FAILED', tool: 'ffmpeg', cwd: folder, limits } as const;
  const more = input.signal ? { signal: input.signal } : {};
  await runTool({
    ...common,
    ...more,
    args: [
      ...QUIET,
      '-progress',
      'pipe:1',
      ...buildInputArgs(input.path, facts.container),
      '-map',
      `0:${video.streamIndex}`,
      '-vf',
      `scale=${w}:${h}:flags=area,setsar=1,format=yuv420p,vidstabdetect=${DETECT}:result=${COURSE}`,
      '-fps_mode',
      'passthrough',
      '-f',
      'null',
      '-',
    ],
    onStdoutLine: readFfmpegProgress(facts.durationUs ?? 0, (share) => input.onShare?.(0.97 * share)),
  });
  // The second pass tells what it makes of that; which pictures it is given does not matter.
  await runTool({
    ...common,
    ...more,
    args: [
      ...QUIET,
      '-f',
      'lavfi',
      '-i',
      `color=s=${w}x${h}:r=25`,
      '-frames:v',
      String(frameCount),
      '-vf',
      `format=yuv420p,vidstabtransform=input=${COURSE}:debug=1:smoothing=0:optzoom=0`,
      '-f',
      'null',
      '-',
    ],
  });
  const moved = readMotions(await readFile(join(folder, MOTIONS), 'utf8'), w);
  input.onShare?.(1);
  if (moved.length !== frameCount)
    throw new ApodixError('MAKE_FAILED', {
      detail: `Movement was found for ${moved.length} of ${frameCount} frames.`,
    });
  return addUpShake(moved);
}

/** What is known of a take, and how it shook, where a recipe has to know that. */
export async function addShake<T extends { readonly facts: MediaFacts; readonly series: TakeSeries }>(
  take: T,
  recipe: Pick<Recipe, 'picture'>,
  input: { readonly path: string; readonly scratchFolder: string; readonly signal?: AbortSignal },
): Promise<T> {
  const { frames, shake } = take.series;
  if (recipe.picture.steady === null || shake || !take.facts.video || !frames) return take;
  return withTemporaryFolder(input.scratchFolder, async (folder) => ({
    ...take,
    series: {
      ...take.series,
      shake: await measureShake({
        path: input.path,
        facts: take.facts,
        frameCount: frames.timesUs.length,
        folder,
        ...(input.signal ? { signal: input.signal } : {}),
      }),
    },
  }));
}

/** Lines of `number x y angle zoom flags`, in points and radians: how far each frame moved. */
export function readMotions(text: string, widthPx: number): { x: number; y: number; angle: number }[] {
  return text.split('\n').flatMap((line) => {
    if (line.startsWith('#') || line.trim() === '') return [];
    const [, x = 0, y = 0, angle = 0] = line.trim().split(/\s+/).map(Number);
    const isKnown = [x, y, angle].every(Number.isFinite);
    return [isKnown ? { x: x / widthPx, y: y / widthPx, angle } : { x: 0, y: 0, angle: 0 }];
  });
}
