import { ApodixError, type FrameTimes, type MediaFacts } from '@apodix/core';
import { buildPictureFilters } from '../picture/picture-filters.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';

/**
 * Writes one frame of a recording as a PNG of its own size, upright, as a standard display shows it. Throws
 * `BAD_REQUEST` where the recording has no such frame.
 */
export async function extractStill(input: {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly frames: FrameTimes;
  readonly frame: number;
  readonly outputPath: string;
  readonly signal?: AbortSignal;
}): Promise<void> {
  const { facts, frames, frame } = input;
  const { video } = facts;
  const ownUs = frames.timesUs[frame];
  if (!video || ownUs === undefined)
    throw new ApodixError('BAD_REQUEST', { detail: `The take has no frame ${frame}.` });
  const previousUs = frames.timesUs[frame - 1];
  // Between the frame before and its own time, so that just that one comes first.
  const seekS = previousUs === undefined ? 0 : (previousUs + ownUs) / 2e6;
  const toRgb =
    'scale=in_color_matrix=bt709:in_range=tv:out_range=pc:flags=bicubic+accurate_rnd+full_chroma_int';
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      '-hide_banner',
      '-nostdin',
      '-v',
      'error',
      ...(seekS > 0 ? ['-ss', seekS.toFixed(6)] : []),
      ...buildInputArgs(input.path, facts.container),
      '-map',
      `0:${video.streamIndex}`,
      '-vf',
      [...buildPictureFilters(video, video, { isFast: false, isDeep: true }), toRgb, 'format=rgb24'].join(
        ',',
      ),
      '-frames:v',
      '1',
      '-c:v',
      'png',
      '-map_metadata',
      '-1',
      '-f',
      'image2',
      '-update',
      '1',
      '-y',
      input.outputPath,
    ],
    limits: { seconds: 120 },
    ...(input.signal ? { signal: input.signal } : {}),
  });
}
