import {
  countGroupFrames,
  type FrameSpan,
  type FrameTimes,
  type MediaFacts,
  type Timeline,
  type VideoCut,
} from '@apodix/core';
import { stat } from 'node:fs/promises';
import { setTimeout as wait } from 'node:timers/promises';
import { BT709_TAGS } from '../picture/picture-filters.ts';
import { measureMdatBytes } from '../inspect/box-order.ts';
import { throwIfCancelled } from '../process/fail.ts';
import { buildToolFault } from '../process/run-tool.ts';
import { readFfmpegProgress } from '../process/progress.ts';
import { runTool } from '../process/run-tool.ts';
import { splitPicture, writeGraph } from '../graph/filter-graph.ts';
import { branchWitnesses, buildWitnessArgs } from '../likeness/witnesses.ts';
import { buildPictureCut, CUT_PAD, writeCutFiles } from './cut-picture.ts';
import type { PictureSource } from './working-files.ts';

export interface ChunkInput {
  readonly take: { readonly path: string; readonly facts: MediaFacts };
  readonly picture: PictureSource;
  readonly frames: FrameTimes;
  readonly timeline: Timeline;
  readonly cut: VideoCut;
  readonly folder: string;
  readonly signal?: AbortSignal;
}

/**
 * Few tries at motion, many frames to choose from: as clear at the same bytes as `medium` in two fifths of
 * its time (docs/decisions/006).
 */
const CODER =
  'aq-mode=1:aq-strength=1.3:bframes=5:ref=2:mixed-refs=1:me=umh:ipratio=1.2:rc-lookahead=20:trellis=1';
/** What a first pass does without: it only has to see what each frame asks for. */
const FIRST_PASS = ':ref=1:trellis=0:subme=1:me=dia:8x8dct=0:partitions=none';
/** Threads of each coder: fixed, because the coder's result depends on their number. */
const CODER_THREADS = 3;
const SHARING_THREADS = 2;
const QUIET = ['-hide_banner', '-nostdin', '-loglevel', 'warning', '-nostats'] as const;

/**
 * Codes some frames of the output at constant quality into MP4s of their own, one for each rate factor, and
 * tells the bytes that their samples take.
 */
export async function codeSpan(
  input: ChunkInput & {
    readonly span: FrameSpan;
    readonly isAtKeyframe?: boolean;
    readonly outputs: readonly { readonly crf: number; readonly path: string }[];
  },
): Promise<number[]> {
  const made = buildPictureCut(input);
  await writeCutFiles(made, input.folder);
  const pads = input.outputs.map((_, index) => `v${index}`);
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      ...QUIET,
      '-xerror',
      ...made.input,
      '-filter_complex',
      writeGraph([...made.chains, splitPicture(CUT_PAD, pads)]),
      ...input.outputs.flatMap(({ crf, path }, index) => [
        '-map',
        `[${pads[index] ?? ''}]`,
        ...buildChunkOutput(input.cut, crf, path),
      ]),
    ],
    limits: { seconds: 3600 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  return Promise.all(input.outputs.map(({ path }) => measureMdatBytes(path)));
}

export interface RunInput extends ChunkInput {
  /** Consecutive chunks that are coded in one go; the last ends where the output does. */
  readonly spans: readonly FrameSpan[];
  readonly crf: number;
  /** Where chunk files go; `%d` stands for the number of the chunk within the run. */
  readonly pattern: string;
  /**
   * About one frame of the whole output in `every`, and its last one, are also kept without loss for the
   * proof.
   */
  readonly witness: { readonly path: string; readonly every: number };
  /** Told as soon as a chunk is complete, in order. False ends the run there. */
  readonly onChunk: (index: number, bytes: number) => boolean;
  readonly onShare: (share: number) => void;
}

/**
 * Codes consecutive chunks at one constant quality in one process, each chunk into a file of its own that
 * begins with a keyframe. Gives the bytes of the chunks that are complete and were accepted.
 */
export async function codeRun(input: RunInput): Promise<number[]> {
  const { cut, spans, witness } = input;
  const [first, last] = [spans[0]?.first ?? 0, spans.at(-1)?.last ?? 0];
  const made = buildPictureCut({ ...input, span: { first, last } });
  await writeCutFiles(made, input.folder);
  const seconds = (frame: number) => ((frame - first) * cut.frameRate.denominator) / cut.frameRate.numerator;
  const durationUs = seconds(last) * 1e6;
  const starts = spans.slice(1).map((span) => span.first);
  const stop = new AbortController();
  const sizes: number[] = [];
  let isStopped = false;
  let isLooking = false;
  const pathOf = (index: number) => input.pattern.replace('%d', String(index));
  const look = async (isOver: boolean) => {
    if (isLooking || isStopped) return;
    isLooking = true;
    // A chunk is complete once the next one has been begun.
    while (
      !isStopped &&
      sizes.length < spans.length &&
      (isOver ||
        (sizes.length + 1 < spans.length &&
          (await stat(pathOf(sizes.length + 1)).catch(() => null)) !== null))
    ) {
      const bytes = await measureMdatBytes(pathOf(sizes.length));
      sizes.push(bytes);
      if (!input.onChunk(sizes.length - 1, bytes)) {
        isStopped = true;
        stop.abort();
      }
    }
    isLooking = false;
  };
  const result = await runTool({
    fault: null,
    tool: 'ffmpeg',
    args: [
      ...QUIET,
      '-progress',
      'pipe:1',
      '-xerror',
      ...made.input,
      '-filter_complex',
      writeGraph([...made.chains, ...branchWitnesses(CUT_PAD, 'v', cut, witness.every, first)]),
      '-map',
      '[v]',
      ...buildChunkCoderArgs(cut, input.crf),
      '-force_key_frames',
      [first, ...starts].map((frame) => seconds(frame).toFixed(6)).join(','),
      '-an',
      '-map_metadata',
      '-1',
      '-fflags',
      '+bitexact',
      '-flags:v',
      '+bitexact+cgop',
      '-f',
      'segment',
      '-segment_format',
      'mp4',
      '-segment_format_options',
      `video_track_timescale=${readTimescale(cut)}`,
      '-reset_timestamps',
      '1',
      '-segment_frames',
      starts.length > 0 ? starts.map((frame) => frame - first).join(',') : String(last - first + 1),
      '-y',
      input.pattern,
      ...buildWitnessArgs(cut, witness.path),
    ],
    limits: { seconds: 1800 + durationUs / 20_000 },
    cwd: input.folder,
    signal: input.signal ? AbortSignal.any([input.signal, stop.signal]) : stop.signal,
    // Ended in mid-run it still has to finish the frames that were kept.
    graceMs: 5000,
    onStdoutLine: (line) => {
      readFfmpegProgress(durationUs, input.onShare)(line);
      if (line.startsWith('progress=')) void look(false);
    },
  });
  throwIfCancelled(input.signal);
  if (isStopped) return sizes;
  if (result.exitCode !== 0) throw buildToolFault(result, 'MAKE_FAILED');
  while (isLooking) await wait(10);
  await look(true);
  return sizes;
}

function buildChunkOutput(plan: VideoCut, crf: number, outputPath: string): string[] {
  return [
    ...buildChunkCoderArgs(plan, crf),
    '-an',
    '-map_metadata',
    '-1',
    '-fflags',
    '+bitexact',
    '-flags:v',
    '+bitexact+cgop',
    '-video_track_timescale',
    String(readTimescale(plan)),
    '-f',
    'mp4',
    '-y',
    outputPath,
  ];
}

/** Ticks a second that hold every frame of the plan exactly. */
export function readTimescale(plan: Pick<VideoCut, 'frameRate'>): number {
  const { numerator } = plan.frameRate;
  return numerator >= 10_000 ? numerator : numerator * Math.ceil(10_000 / numerator);
}

function writeRate(plan: Pick<VideoCut, 'frameRate'>): string {
  return `${plan.frameRate.numerator}/${plan.frameRate.denominator}`;
}

/**
 * H.264 High, closed groups of two seconds at most, BT.709, at constant quality. `stitchable` gives all
 * chunks the same parameter sets.
 */
export function buildChunkCoderArgs(
  plan: Pick<VideoCut, 'frameRate' | 'widthPx' | 'heightPx'>,
  crf: number,
): string[] {
  return [...buildCoderArgs(plan, 'only'), '-crf', String(crf)];
}

/**
 * The same without saying how much it may take; quicker for a first pass. In two passes the coder holds its
 * rate by itself: with a buffer to watch over, or several frames at work at once, it would decide by which is
 * further, and the same input would not always give the same bytes. So its two threads share each frame.
 */
export function buildCoderArgs(
  plan: Pick<VideoCut, 'frameRate' | 'widthPx' | 'heightPx'>,
  pass: 'only' | 'first' | 'second',
): string[] {
  const rate = plan.frameRate.numerator / plan.frameRate.denominator;
  const macroblocks = Math.ceil(plan.widthPx / 16) * Math.ceil(plan.heightPx / 16);
  // ITU-T H.264 table A-1: level 4.1 allows 245 760 macroblocks a second, 8192 a frame, and 62.5 Mbit/s in
  // High profile.
  const isLevel41 = macroblocks * rate <= 245_760 && macroblocks <= 8192;
  return [
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-threads',
    String(pass === 'only' ? CODER_THREADS : SHARING_THREADS),
    '-profile:v',
    'high',
    ...(isLevel41
      ? ['-level:v', '4.1', ...(pass === 'only' ? ['-maxrate', '60M', '-bufsize', '70M'] : [])]
      : []),
    '-x264-params',
    `open-gop=0:stitchable=1:${CODER}${pass === 'only' ? '' : ':sliced-threads=1'}${pass === 'first' ? FIRST_PASS : ''}`,
    '-g',
    String(countGroupFrames(rate)),
    ...BT709_TAGS,
    '-r',
    writeRate(plan),
  ];
}
