import type { ContainerId, Filmstrip } from '@apodix/core';
import { existsSync } from 'node:fs';
import { probeStreams } from '../inspect/probe.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';

/** Pictures that are there while the rest is still being measured. */
export interface FirstLook {
  readonly poster: string;
  readonly strip: string;
  readonly filmstrip: Filmstrip;
}

const TILES = 8;
const TILE_HEIGHT = 72;
const POSTER_EDGE = 480;
const LIMITS = { seconds: 60, memoryBytes: 6_000_000_000, outputBytes: 100_000_000 };

/**
 * A first picture and a rough strip of a video, from the keyframes at a few places alone: seconds after it
 * has come in, whatever its length. null where that cannot be had; the full inspection decides what becomes
 * of the file.
 */
export async function takeFirstLook(
  path: string,
  container: ContainerId,
  names: { readonly poster: string; readonly strip: string },
  signal?: AbortSignal,
): Promise<FirstLook | null> {
  const { streams, format } = await probeStreams(path, container, signal);
  const picture = streams.find((stream) => stream.codec_type === 'video' && stream.width && stream.height);
  const durationS = format.duration ?? picture?.duration ?? 0;
  if (!picture || durationS <= 0) return null;
  const isTurned = (picture.side_data_list ?? []).some(({ rotation = 0 }) => Math.abs(rotation) % 180 === 90);
  const [width, height] = [picture.width ?? 16, picture.height ?? 9];
  const ratio = isTurned ? height / width : width / height;
  const tileWidthPx = Math.max(2, Math.round((TILE_HEIGHT * ratio) / 2) * 2);
  const startS = format.start_time ?? 0;
  const inputs = Array.from({ length: TILES }, (_, index) => [
    ...[
      '-ss',
      (startS + (durationS * (index + 0.5)) / TILES).toFixed(3),
      '-noaccurate_seek',
      '-skip_frame',
      'nokey',
    ],
    ...['-threads', '1', ...buildInputArgs(path, container)],
  ]);
  const middle = Math.floor(TILES / 2);
  const chains = inputs.map((_, index) => {
    const one = `[${index}:v:0]trim=end_frame=1,setpts=0`;
    const tile = `scale=${tileWidthPx}:${TILE_HEIGHT},format=yuvj420p,setsar=1`;
    if (index !== middle) return `${one},${tile}[t${index}]`;
    const inside = 'force_original_aspect_ratio=decrease:force_divisible_by=2';
    const poster = `scale=${POSTER_EDGE}:${POSTER_EDGE}:${inside}`;
    return `${one},split=2[m][w];[m]${tile}[t${index}];[w]${poster},format=yuvj420p,setsar=1[poster]`;
  });
  const pads = inputs.map((_, index) => `[t${index}]`).join('');
  const still = (pad: string, out: string) => [
    ...['-map', `[${pad}]`, '-frames:v', '1', '-q:v', '5', '-f', 'image2', '-update', '1', '-y', out],
  ];
  const result = await runTool({
    tool: 'ffmpeg',
    fault: null,
    args: [
      ...['-v', 'error', '-nostdin', ...inputs.flat()],
      ...['-filter_complex', [...chains, `${pads}hstack=inputs=${TILES}[strip]`].join(';')],
      ...still('poster', names.poster),
      ...still('strip', names.strip),
    ],
    limits: LIMITS,
    ...(signal ? { signal } : {}),
  });
  if (result.exitCode !== 0 || !existsSync(names.poster) || !existsSync(names.strip)) return null;
  return {
    ...names,
    filmstrip: { tileWidthPx, tileHeightPx: TILE_HEIGHT, tileCount: TILES },
  };
}
