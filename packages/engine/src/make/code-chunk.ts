import { countGroupFrames, type FrameSpan, type FrameTimes, type MediaFacts, type VideoPlan } from '@apodix/core';
import { BT709_TAGS } from '../bring-in/picture-filters.ts';
import { measureMdatBytes } from '../inspect/box-order.ts';
import { buildToolFault } from '../process/fail.ts';
import { runTool, startTool, type StartedTool } from '../process/run-tool.ts';
import { buildVideoCut } from './video-args.ts';
import type { PictureSource } from './working-files.ts';

export interface ChunkInput {
  readonly take: { readonly path: string; readonly facts: MediaFacts };
  readonly picture: PictureSource;
  readonly frames: FrameTimes;
  readonly plan: VideoPlan;
  readonly folder: string;
  readonly signal?: AbortSignal;
}

/** Threads of each coder: fixed, because the coder's result depends on their number. */
const CODER_THREADS = 3;
const QUIET = ['-hide_banner', '-nostdin', '-loglevel', 'warning', '-nostats'] as const;

/** Codes some frames of the output at constant quality into MP4s of their own, one for each rate factor, and tells the bytes that their samples take. */
export async function codeSpan(input: ChunkInput & { readonly span: FrameSpan; readonly isAtKeyframe?: boolean; readonly outputs: readonly { readonly crf: number; readonly path: string }[] }): Promise<number[]> {
  const cut = buildPictureCut(input, input.span, input.isAtKeyframe);
  const pads = input.outputs.map((_, index) => `[v${index}]`);
  const result = await runTool({
    tool: 'ffmpeg',
    args: [...QUIET, '-xerror', ...cut.input, '-filter_complex', `${cut.graph.replace(/\[v\]$/, '')},split=${pads.length}${pads.join('')}`, ...input.outputs.flatMap(({ crf, path }, index) => ['-map', pads[index] ?? '', ...buildChunkOutput(input.plan, crf, path)])],
    limits: { seconds: 3600 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  if (result.exitCode !== 0) throw buildToolFault(result, 'MAKE_FAILED');
  return Promise.all(input.outputs.map(({ path }) => measureMdatBytes(path)));
}

/** Starts decoding, cutting and scaling all frames of the output; they come out of its stdout one after the other as raw 4:2:0. */
export function startPicture(input: ChunkInput): StartedTool {
  const cut = buildPictureCut(input);
  return startTool({
    tool: 'ffmpeg',
    args: [...QUIET, '-xerror', ...cut.input, '-filter_complex', cut.graph, '-map', '[v]', '-fps_mode', 'passthrough', '-f', 'rawvideo', '-pix_fmt', 'yuv420p', 'pipe:1'],
    isRead: true,
    limits: { seconds: 6 * 3600 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
}

/** Starts a coder that takes raw frames on its stdin and makes a chunk of them. */
export function startChunkCoder(input: ChunkInput, crf: number, outputPath: string): StartedTool {
  const { plan } = input;
  return startTool({
    tool: 'ffmpeg',
    args: [...QUIET.filter((each) => each !== '-nostdin'), ...buildRawInput(plan), '-map', '0:v', '-vf', 'setsar=1', ...buildChunkOutput(plan, crf, outputPath)],
    isFed: true,
    limits: { seconds: 6 * 3600 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
}

/** Starts keeping raw frames without loss, for the proof. */
export function startWitnessCoder(input: ChunkInput, outputPath: string): StartedTool {
  return startTool({
    tool: 'ffmpeg',
    args: [...QUIET.filter((each) => each !== '-nostdin'), ...buildRawInput(input.plan), '-c:v', 'libx264', '-preset', 'ultrafast', '-qp', '0', '-threads', '1', ...BT709_TAGS, '-an', '-f', 'matroska', '-y', outputPath],
    isFed: true,
    limits: { seconds: 6 * 3600 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
}

function buildPictureCut(input: ChunkInput, span?: FrameSpan, isAtKeyframe = false): { input: readonly string[]; graph: string } {
  const previousFrameUs = input.frames.timesUs.findLast((timeUs) => timeUs < input.plan.keep.startUs) ?? null;
  return buildVideoCut({ picture: input.picture, take: input.take, plan: input.plan, previousFrameUs, hasSound: false, isAtKeyframe, ...(span ? { span } : {}) });
}

function buildRawInput(plan: VideoPlan): string[] {
  return ['-protocol_whitelist', 'file,pipe', '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-video_size', `${plan.widthPx}x${plan.heightPx}`, '-framerate', writeRate(plan), '-i', 'pipe:0'];
}

function buildChunkOutput(plan: VideoPlan, crf: number, outputPath: string): string[] {
  return [...buildChunkCoderArgs(plan, crf), '-an', '-map_metadata', '-1', '-fflags', '+bitexact', '-flags:v', '+bitexact+cgop', '-video_track_timescale', String(readTimescale(plan)), '-f', 'mp4', '-y', outputPath];
}

/** Ticks a second that hold every frame of the plan exactly. */
export function readTimescale(plan: Pick<VideoPlan, 'frameRate'>): number {
  const { numerator } = plan.frameRate;
  return numerator >= 10_000 ? numerator : numerator * Math.ceil(10_000 / numerator);
}

function writeRate(plan: Pick<VideoPlan, 'frameRate'>): string {
  return `${plan.frameRate.numerator}/${plan.frameRate.denominator}`;
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
    '-x264-params', 'open-gop=0:stitchable=1', '-crf', String(crf), '-g', String(countGroupFrames(rate)), ...BT709_TAGS, '-r', writeRate(plan),
  ];
}
