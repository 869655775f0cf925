import {
  countGroupFrames,
  type FrameSpan,
  type FrameTimes,
  type MediaFacts,
  type SizePx,
  type Timeline,
  type VideoCut,
} from '@apodix/core';
import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { BT709_TAGS } from '../picture/picture-filters.ts';
import { INTERMEDIATE_VERSION } from '../picture/intermediate.ts';
import { readSampleSizes } from '../inspect/box-order.ts';
import { readFfmpegProgress } from '../process/progress.ts';
import { STRICT_ARGS } from '../process/quiet-args.ts';
import { runTool } from '../process/run-tool.ts';
import { writeGraph } from '../graph/filter-graph.ts';
import { branchWitnesses, buildWitnessArgs, type WitnessPattern } from '../likeness/witnesses.ts';
import type { TakeFiles } from '../gather/joined-files.ts';
import { FileContents, nameByContent } from './content-key.ts';
import { buildPictureCut, CUT_PAD, writeCutFiles, type PictureCut } from './cut-picture.ts';
import type { PieceStore, StoredPiece } from './piece-store.ts';
import type { PictureSource } from './working-files.ts';

export interface PieceInput {
  readonly take: TakeFiles & { readonly facts: MediaFacts };
  readonly picture: PictureSource;
  readonly frames: FrameTimes;
  readonly timeline: Timeline;
  readonly cut: VideoCut;
  readonly folder: string;
  /** Keyframes of the picture's file that its index finds. */
  readonly keyframesUs?: readonly number[];
  readonly signal?: AbortSignal;
}

/** Bits spread evenly over time, none for what only looks sharp (docs/decisions/028). */
const CODER = 'aq-mode=1:aq-strength=1.0:psy=0:qcomp=0.5:ipratio=1.2:rc-lookahead=20:trellis=1';
/**
 * From so many lines on motion is found as well with few tries: less than half the time for the same likeness
 * (docs/decisions/031, 033). With fewer, each way to code a block is weighed by what it takes and loses: else
 * they fall short of `medium` (docs/decisions/035).
 */
const MANY_LINES = 900;
/** Whether a picture is coded with fewer tries for its size. */
export const hasManyLines = ({ widthPx, heightPx }: SizePx) => Math.min(widthPx, heightPx) >= MANY_LINES;
/**
 * From so many frames a second on three frames between others in a fixed order are as good, and quicker.
 * Below, so many as pay: in the grain of a dark stage hardly any do (docs/decisions/036).
 */
const MANY_FRAMES = 48;
/** Of many lines what little is left of fine grain is coded too, where it would be dropped (036). */
const TRIES = {
  many: ':ref=2:me=dia:subme=1:mixed-refs=0:partitions=i8x8,i4x4:no-dct-decimate=1',
  few: ':ref=1:me=hex:subme=7:bframes=8:b-adapt=1',
} as const;
const BETWEEN = {
  fixed: ':bframes=3:b-adapt=0',
  asItPays: ':bframes=8:b-adapt=1:b-bias=-20',
} as const;
/** What a first pass does without: it only has to see what each frame asks for. */
const FIRST_PASS = ':ref=1:trellis=0:subme=1:me=dia:8x8dct=0:partitions=none';
/**
 * Threads of each coder: fixed, because what it does can depend on their number. Pieces are coded side by
 * side, each by one.
 */
const CODER_THREADS = { only: 1, first: 2, second: 2 } as const;
const PLAIN = ['-an', '-map_metadata', '-1', '-fflags', '+bitexact', '-flags:v', '+bitexact+cgop'] as const;
/** Changed when pieces that were coded before must not be used any more. */
const PIECE_VERSION = 1;

/** One piece of an output, ready to be coded at any quality. */
export interface Piece {
  readonly span: FrameSpan;
  readonly made: PictureCut;
  readonly witness: WitnessPattern;
  /** Tells apart what pieces show and how they are coded, but for their quality. */
  readonly key: string;
}

/**
 * Describes a piece of an output. What its key is made of is all that its coding reads: the command without
 * the places of files, and what these hold.
 */
export async function describePiece(
  input: PieceInput,
  span: FrameSpan,
  witness: WitnessPattern,
  toolVersion: string,
): Promise<Piece> {
  const made = buildPictureCut({ ...input, span });
  const contents = await listContents(input);
  const key = nameByContent([
    PIECE_VERSION,
    toolVersion,
    contents.replaceIn(made.input),
    made.chains,
    made.files,
    input.cut.recipe.picture.color,
    span.last - span.first,
    branchWitnesses(CUT_PAD, 'v', witness),
    buildWitnessArgs(''),
    buildPieceCoderArgs(input.cut, 0),
  ]);
  return { span, made, witness, key };
}

/** What tells the content of every file that a piece may be read from. */
async function listContents({ take, picture }: PieceInput): Promise<FileContents> {
  const { sha256 } = take.facts;
  const { widthPx, heightPx } = picture.video;
  const contents = new FileContents();
  contents.add(take.path, sha256);
  if (!picture.isTake) contents.add(picture.path, `${sha256} ${INTERMEDIATE_VERSION} ${widthPx}x${heightPx}`);
  for (const { path, facts } of take.joined ?? []) contents.add(path, facts.sha256);
  if (take.cardPath)
    contents.add(
      take.cardPath,
      createHash('sha256')
        .update(await readFile(take.cardPath))
        .digest('hex'),
    );
  return contents;
}

/**
 * Codes a piece at constant quality into a file of its own, with the frames that the proof compares beside
 * it. Throws `MAKE_FAILED` and what the tool throws.
 */
export async function codePiece(
  input: PieceInput & {
    readonly store: PieceStore;
    /** Other pieces keep the other cores busy: it is read and drawn by one thread. */
    readonly isBesideOthers: boolean;
    readonly onShare?: (share: number) => void;
  },
  { span, made, witness, key }: Piece,
  crf: number,
): Promise<StoredPiece> {
  const { cut } = input;
  await writeCutFiles(made, input.folder);
  const fresh = await input.store.begin(key, crf);
  const lengthUs = ((span.last - span.first) * cut.frameRate.denominator * 1e6) / cut.frameRate.numerator;
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      ...STRICT_ARGS,
      '-progress',
      'pipe:1',
      ...(input.isBesideOthers ? readByOneThread(made.input) : made.input),
      '-filter_complex',
      writeGraph([...made.chains, ...branchWitnesses(CUT_PAD, 'v', witness)]),
      '-map',
      '[v]',
      ...buildPieceOutput(cut, crf, fresh.path),
      ...buildWitnessArgs(fresh.witnessPath),
    ],
    limits: { seconds: 3600 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
    onStdoutLine: readFfmpegProgress(lengthUs, (share) => input.onShare?.(share)),
  });
  return fresh.keep();
}

/** The same frames at less cost in all: threads that wait for one another are of use on idle cores only. */
const readByOneThread = (args: readonly string[]) => [
  ...args.flatMap((each) => (each === '-i' ? ['-threads', '1', each] : [each])),
  '-filter_complex_threads',
  '1',
];

/**
 * Codes some frames only to see the bytes that each takes, in decoding order: a keyframe first. Throws what
 * coding throws.
 */
export async function weighSpan(
  input: PieceInput & { readonly span: FrameSpan },
  crf: number,
  path: string,
): Promise<number[]> {
  const made = buildPictureCut(input);
  await writeCutFiles(made, input.folder);
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      ...STRICT_ARGS,
      ...made.input,
      '-filter_complex',
      writeGraph([...made.chains, { from: [CUT_PAD], filters: ['null'], to: ['v'] }]),
      '-map',
      '[v]',
      ...buildPieceOutput(input.cut, crf, path),
    ],
    limits: { seconds: 3600 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  return readSampleSizes(path);
}

function buildPieceOutput(cut: VideoCut, crf: number, outputPath: string): string[] {
  return [
    ...buildPieceCoderArgs(cut, crf),
    ...PLAIN,
    '-video_track_timescale',
    String(readTimescale(cut)),
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
 * pieces the same parameter sets.
 */
export function buildPieceCoderArgs(
  plan: Pick<VideoCut, 'frameRate' | 'widthPx' | 'heightPx'>,
  crf: number,
  threads?: number,
): string[] {
  return [...buildCoderArgs(plan, 'only', threads), '-crf', String(crf)];
}

/**
 * The same without saying how much it may take; quicker for a first pass. In two passes the coder holds its
 * rate by itself: with a buffer to watch over, or several frames at work at once, it would decide by which is
 * further, and the same input would not always give the same bytes. So its two threads share each frame.
 */
export function buildCoderArgs(
  plan: Pick<VideoCut, 'frameRate' | 'widthPx' | 'heightPx'>,
  pass: 'only' | 'first' | 'second',
  threads: number = CODER_THREADS[pass],
): string[] {
  const rate = plan.frameRate.numerator / plan.frameRate.denominator;
  const between = rate >= MANY_FRAMES ? BETWEEN.fixed : BETWEEN.asItPays;
  const tries = hasManyLines(plan) ? TRIES.many + between : TRIES.few;
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
    String(threads),
    '-profile:v',
    'high',
    ...(isLevel41
      ? ['-level:v', '4.1', ...(pass === 'only' ? ['-maxrate', '60M', '-bufsize', '70M'] : [])]
      : []),
    '-x264-params',
    `open-gop=0:stitchable=1:${CODER}${tries}${pass === 'only' ? '' : ':sliced-threads=1'}${pass === 'first' ? FIRST_PASS : ''}`,
    '-g',
    String(countGroupFrames(rate)),
    ...BT709_TAGS,
    '-r',
    writeRate(plan),
  ];
}
