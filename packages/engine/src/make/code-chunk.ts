import { countGroupFrames, type FrameSpan, type FrameTimes, type MediaFacts, type VideoPlan } from '@apodix/core';
import { BT709_TAGS } from '../bring-in/picture-filters.ts';
import { measureMdatBytes } from '../inspect/box-order.ts';
import { buildToolFault } from '../process/fail.ts';
import { readFfmpegProgress } from '../process/progress.ts';
import { runTool } from '../process/run-tool.ts';
import { buildVideoCut } from './video-args.ts';
import type { PictureSource } from './working-files.ts';

export interface ChunkInput {
  readonly take: { readonly path: string; readonly facts: MediaFacts };
  readonly picture: PictureSource;
  readonly frames: FrameTimes;
  readonly plan: VideoPlan;
  /** Frames of the output, counted from its start. */
  readonly span: FrameSpan;
  readonly crf: number;
  readonly outputPath: string;
  /** Every so many frames of the output one is also kept without loss, for the proof; null keeps none. */
  readonly witness: { readonly path: string; readonly every: number } | null;
  readonly folder: string;
  readonly signal?: AbortSignal;
  readonly onShare?: (share: number) => void;
}

/** Threads of each coder: fixed, because the coder's result depends on their number, and two chunks are coded at a time. */
const CODER_THREADS = 2;

/** Codes one chunk of the picture at constant quality into an MP4 of its own and tells the bytes that its samples take. */
export async function codeChunk(input: ChunkInput): Promise<{ bytes: number }> {
  const { plan, span, witness } = input;
  const previousFrameUs = input.frames.timesUs.findLast((timeUs) => timeUs < plan.keep.startUs) ?? null;
  const cut = buildVideoCut({ picture: input.picture, take: input.take, plan, previousFrameUs, hasSound: false, span });
  const graph = witness === null ? cut.graph : `${cut.graph.replace(/\[v\]$/, ',split=2[v][kept]')};[kept]${buildWitnessFilter(plan, span, witness.every)}[w]`;
  const durationUs = ((span.last - span.first) * plan.frameRate.denominator * 1e6) / plan.frameRate.numerator;
  const result = await runTool({
    tool: 'ffmpeg',
    args: [
      '-hide_banner', '-nostdin', '-loglevel', 'warning', '-nostats', '-progress', 'pipe:1', '-xerror',
      ...cut.input,
      '-filter_complex', graph,
      '-map', '[v]', ...buildChunkCoderArgs(plan, input.crf), '-an', '-map_metadata', '-1', '-fflags', '+bitexact', '-flags:v', '+bitexact+cgop', '-video_track_timescale', String(readTimescale(plan)), '-f', 'mp4', '-y', input.outputPath,
      ...(witness === null ? [] : ['-map', '[w]', ...WITNESS_ARGS, '-y', witness.path]),
    ],
    limits: { seconds: 1800 + durationUs / 20_000 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
    onStdoutLine: readFfmpegProgress(durationUs, (share) => input.onShare?.(share)),
  });
  if (result.exitCode !== 0) throw buildToolFault(result, 'MAKE_FAILED');
  return { bytes: await measureMdatBytes(input.outputPath) };
}

/** How witness frames are kept: without loss, quickly. */
const WITNESS_ARGS = ['-fps_mode', 'passthrough', '-c:v', 'libx264', '-preset', 'ultrafast', '-qp', '0', '-threads', '1', '-an', '-f', 'matroska'] as const;

/** Keeps frames whose number in the whole output divides by `every`, and the last of all. Their time stamps are those numbers. */
function buildWitnessFilter(plan: VideoPlan, span: FrameSpan, every: number): string {
  return `select='not(mod(n+${span.first},${every}))+eq(n+${span.first},${plan.frameCount - 1})'`;
}

/** Ticks a second that hold every frame of the plan exactly. */
export function readTimescale(plan: Pick<VideoPlan, 'frameRate'>): number {
  const { numerator } = plan.frameRate;
  return numerator >= 10_000 ? numerator : numerator * Math.ceil(10_000 / numerator);
}

/**
 * H.264 High, closed groups of two seconds at most, BT.709, at constant quality. `faster` with adaptive quantisation by variance of the
 * whole frame is as clear at the same bytes as `medium` and takes about half its time (docs/decisions/004). `stitchable` gives all chunks
 * the same parameter sets.
 */
export function buildChunkCoderArgs(plan: Pick<VideoPlan, 'frameRate' | 'widthPx' | 'heightPx'>, crf: number): string[] {
  const rate = plan.frameRate.numerator / plan.frameRate.denominator;
  const macroblocks = Math.ceil(plan.widthPx / 16) * Math.ceil(plan.heightPx / 16);
  // ITU-T H.264 table A-1: level 4.1 allows 245 760 macroblocks a second, 8192 a frame, and 62.5 Mbit/s in High profile.
  const isLevel41 = macroblocks * rate <= 245_760 && macroblocks <= 8192;
  return [
    '-c:v', 'libx264', '-preset', 'faster', '-aq-mode', '2', '-refs', '3', '-threads', String(CODER_THREADS), '-profile:v', 'high', ...(isLevel41 ? ['-level:v', '4.1', '-maxrate', '60M', '-bufsize', '70M'] : []),
    '-x264-params', 'open-gop=0:stitchable=1', '-crf', String(crf), '-g', String(countGroupFrames(rate)), ...BT709_TAGS, '-r', `${plan.frameRate.numerator}/${plan.frameRate.denominator}`,
  ];
}
