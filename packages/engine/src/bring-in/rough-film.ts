import type { ContainerId } from '@apodix/core';
import type { KnownEarly } from '../inspect/inspect-timed.ts';
import { buildPictureFilters } from '../picture/picture-filters.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';
import type { CopiedKeyframes } from './copy-keyframes.ts';
import { measureProxy } from './measure-proxy.ts';

/** Pictures a second of a rough film; each keyframe stands until the next. */
const RATE = 4;
/** Keyframes that are enough for it, however long the take is. */
export const ROUGH_KEYFRAMES = 400;
const LIMITS = { seconds: 3600, memoryBytes: 6_000_000_000, outputBytes: 4_000_000_000 };

/**
 * A film for listening and cutting while the rest is still being measured: all of the sound, and of the
 * picture some keyframes alone, which cost little to decode. As long as the take, MP4. false where it could
 * not be made.
 */
export async function makeRoughFilm(
  source: { readonly path: string; readonly container: ContainerId },
  keys: CopiedKeyframes,
  { video, sound, durationUs }: Pick<KnownEarly, 'video' | 'sound' | 'durationUs'>,
  filmPath: string,
  signal?: AbortSignal,
): Promise<boolean> {
  if (!video) return false;
  const size = measureProxy({ widthPx: video.widthPx / 2, heightPx: video.heightPx / 2 });
  const seconds = (durationUs / 1e6).toFixed(6);
  const picture = [
    `setpts=PTS-STARTPTS+${(keys.firstUs / 1e6).toFixed(6)}/TB`,
    ...buildPictureFilters(video, size, { isFast: true }),
    `fps=${RATE}:start_time=0`,
    'tpad=stop_mode=clone:stop=-1',
    `trim=duration=${seconds}`,
  ];
  const heard = [
    ...['-map', `1:${sound?.streamIndex}`, '-af', 'aresample=async=1:first_pts=0'],
    ...['-c:a', 'aac', '-b:a', '96k', '-ac', '2'],
  ];
  const result = await runTool({
    tool: 'ffmpeg',
    fault: null,
    args: [
      ...['-v', 'error', '-nostdin', '-threads', '1', ...buildInputArgs(keys.path, keys.container)],
      ...(sound ? ['-discard:v', 'all', ...buildInputArgs(source.path, source.container)] : []),
      ...['-map', '0:v:0', '-vf', picture.join(',')],
      ...['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '28', '-g', String(RATE), '-threads', '1'],
      ...(sound ? heard : []),
      ...['-t', seconds, '-map_metadata', '-1', '-movflags', '+faststart', '-f', 'mp4', '-y', filmPath],
    ],
    limits: LIMITS,
    ...(signal ? { signal } : {}),
  });
  return result.exitCode === 0;
}
