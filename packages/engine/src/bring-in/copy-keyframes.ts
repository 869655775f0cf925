import type { ContainerId } from '@apodix/core';
import { existsSync } from 'node:fs';
import type { KnownEarly } from '../inspect/inspect-timed.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';

const LIMITS = { seconds: 600, memoryBytes: 3_000_000_000, outputBytes: 4_000_000_000 };
/** Containers whose turn and color tags another of their kind keeps. */
const LIKE_MP4 = new Set<ContainerId>(['mp4', 'mov']);

/** Some keyframes of a picture as they are coded, in a file of their own. */
export interface CopiedKeyframes {
  readonly path: string;
  readonly container: 'mov' | 'mkv';
  readonly count: number;
  /** From the start of the recording. */
  readonly firstUs: number;
}

/**
 * Copies every so manyth keyframe of a picture, at most `most`, without decoding anything: what is wanted of
 * a long or large recording then costs no more than they do. null where it cannot be had.
 */
export async function copyKeyframes(
  path: string,
  container: ContainerId,
  { video, keyframesUs }: Pick<KnownEarly, 'video' | 'keyframesUs'>,
  most: number,
  outPath: string,
  signal?: AbortSignal,
): Promise<CopiedKeyframes | null> {
  const [firstUs] = keyframesUs;
  if (!video || firstUs === undefined) return null;
  const step = Math.ceil(keyframesUs.length / most);
  const kind = LIKE_MP4.has(container) ? 'mov' : 'mkv';
  const drop = `if(key,st(0,ld(0)+1)*0+gt(mod(ld(0)-1\\,${step})\\,0),1)`;
  const result = await runTool({
    tool: 'ffmpeg',
    fault: null,
    args: [
      ...['-v', 'error', '-nostdin', '-discard:v', 'nokey', ...buildInputArgs(path, container)],
      ...['-map', `0:${video.streamIndex}`, '-c', 'copy', '-bsf:v', `noise=drop='${drop}'`],
      ...['-f', kind === 'mov' ? 'mov' : 'matroska', '-y', outPath],
    ],
    limits: LIMITS,
    ...(signal ? { signal } : {}),
  });
  if (result.exitCode !== 0 || !existsSync(outPath)) return null;
  return { path: outPath, container: kind, count: Math.ceil(keyframesUs.length / step), firstUs };
}
