import type { Filmstrip, VideoFacts } from '@apodix/core';
import { existsSync } from 'node:fs';
import { buildPictureFilters } from '../picture/picture-filters.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';
import type { CopiedKeyframes } from './copy-keyframes.ts';
import { buildStripFilters, measureTile } from './working-files.ts';

/** Pictures that are there while the rest is still being measured. */
export interface FirstLook {
  readonly poster: string;
  readonly strip: string;
  readonly filmstrip: Filmstrip;
}

/** Pictures of a rough strip, and the keyframes that are enough for it. */
export const FIRST_TILES = 8;
const POSTER_EDGE = 480;
const LIMITS = { seconds: 60, memoryBytes: 6_000_000_000, outputBytes: 100_000_000 };

/**
 * A first picture and a rough strip of a video from a few of its keyframes. null where they cannot be
 * decoded; the full inspection decides what becomes of the file.
 */
export async function takeFirstLook(
  keys: CopiedKeyframes,
  video: VideoFacts,
  durationUs: number,
  names: { readonly poster: string; readonly strip: string },
  signal?: AbortSignal,
): Promise<FirstLook | null> {
  const scale = Math.min(1, POSTER_EDGE / Math.max(video.widthPx, video.heightPx));
  const even = (edge: number) => Math.max(2, Math.round((edge * scale) / 2) * 2);
  const poster = { widthPx: even(video.widthPx), heightPx: even(video.heightPx) };
  const tile = measureTile(video);
  const whole = [
    `setpts=PTS-STARTPTS+${(keys.firstUs / 1e6).toFixed(6)}/TB`,
    ...buildPictureFilters(video, poster, { isFast: true }),
    'split=2',
  ];
  const strip = buildStripFilters(tile, FIRST_TILES, durationUs);
  const middle = [`select='eq(n,${Math.floor(keys.count / 2)})'`, 'format=yuvj420p'];
  const still = (pad: string, out: string) => [
    ...['-map', `[${pad}]`, '-frames:v', '1', '-q:v', '5', '-f', 'image2', '-update', '1', '-y', out],
  ];
  const result = await runTool({
    tool: 'ffmpeg',
    fault: null,
    args: [
      ...['-v', 'error', '-nostdin', ...buildInputArgs(keys.path, keys.container), '-filter_complex'],
      `[0:v]${whole.join(',')}[a][b];[a]${middle.join(',')}[poster];[b]${strip.join(',')}[strip]`,
      ...still('poster', names.poster),
      ...still('strip', names.strip),
    ],
    limits: LIMITS,
    ...(signal ? { signal } : {}),
  });
  if (result.exitCode !== 0 || !existsSync(names.poster) || !existsSync(names.strip)) return null;
  const filmstrip = {
    tileWidthPx: tile.widthPx,
    tileHeightPx: tile.heightPx,
    tileCount: FIRST_TILES,
  };
  return { ...names, filmstrip };
}
