import {
  containSize,
  findDivisor,
  findFrameAt,
  measureBars,
  readBarLevel,
  type Framing,
  turnSize,
  isPlainColor,
  type FrameSpan,
  type FrameTimes,
  type TakePlace,
  type Timeline,
  type TimelineSpan,
  type VideoCut,
} from '@apodix/core';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Chain } from '../graph/filter-graph.ts';
import { buildColorFilters } from '../picture/color-filters.ts';
import { buildFrameFilters } from '../picture/frame-filters.ts';
import { hideAreas } from '../picture/hidden-filters.ts';
import { buildPictureFilters } from '../picture/picture-filters.ts';
import { buildInputArgs, nameFile } from '../process/input-args.ts';
import { findDrawn, findJoinedFile, type JoinedFile, type TakeFiles } from '../gather/joined-files.ts';
import { buildSteadyFilter, type CutFile } from '../steady/steady-filter.ts';
import { describeWorkingPicture, type PictureSource } from './working-files.ts';

/** How far before the start decoding begins, so that the frame at the start is surely decoded. */
const RUN_UP_US = 3_000_000;
/** Before a piece in the middle of a take less will do: only time stamps have to be found again. */
const SHORT_RUN_UP_US = 300_000;
/**
 * How far beyond a keyframe to seek so that demuxers that step back by their reordering delay still land on
 * it.
 */
const BEYOND_KEYFRAME_US = 160_000;
/** A last frame may be shown for so many frames of the result. */
const MOST_HELD_FRAMES = 3000;

export interface CutInput {
  readonly picture: PictureSource;
  readonly take: TakeFiles;
  readonly cut: VideoCut;
  readonly timeline: Timeline;
  readonly frames: FrameTimes;
  /** Only these frames of the output, starting at time 0; all of them without it. */
  readonly span?: FrameSpan;
  /** Keyframes of the picture's file that its index finds: reading begins there, not further before. */
  readonly keyframesUs?: readonly number[];
}

/** Files to read and the chains of a graph that ends in the pad `cut`. */
export interface PictureCut {
  readonly input: readonly string[];
  /** How many files. */
  readonly inputCount: number;
  /** What the filters read beside them: `writeCutFiles`. */
  readonly files: readonly CutFile[];
  readonly chains: readonly Chain[];
}

/** The pad that a cut ends in. */
export const CUT_PAD = 'cut';

/**
 * The frame-exact cut that the timeline describes: each stretch is read from a little before its first frame,
 * its frames are counted off from there, and all are brought to the size and stance of the result.
 */
export function buildPictureCut(input: CutInput): PictureCut {
  const { timeline } = input;
  const first = input.span?.first ?? 0;
  const last = input.span?.last ?? timeline.frameCount;
  const pieces = timeline.spans
    .map((span) => ({
      span,
      from: Math.max(first, span.firstOutput),
      to: Math.min(last, span.lastOutput),
    }))
    .filter((piece) => piece.to > piece.from);
  const isCard = ({ span }: Piece) => findDrawn(input.take, span)?.drawn?.kind === 'card';
  const shown = joinPieces(
    input,
    pieces.filter((piece) => !isCard(piece)),
  );
  const [card] = pieces.filter(isCard);
  return card ? putCardBefore(input, card, shown) : shown;
}

/** What was recorded, cut and joined, with its look. */
function joinPieces(input: CutInput, parts: readonly Piece[]): PictureCut {
  const { cut } = input;
  const pieces: Read[] = [];
  let firstInput = 0;
  for (const part of parts) {
    const dissolve = findDrawn(input.take, part.span);
    const piece = dissolve
      ? buildDissolve(input, part, dissolve, firstInput)
      : buildPiece(input, part, firstInput, `piece${firstInput}`);
    pieces.push(piece);
    firstInput += dissolve ? 2 : 1;
  }
  const isJoined = pieces.length > 1;
  const ends = pieces.map((piece) => piece.chains.at(-1));
  const rate = `${cut.frameRate.numerator}/${cut.frameRate.denominator}`;
  const join = isJoined ? [`concat=n=${pieces.length}:v=1:a=0`, `setpts=N/(${rate})/TB`] : [];
  return {
    input: pieces.flatMap((piece) => piece.input),
    inputCount: firstInput,
    files: pieces.flatMap((piece) => piece.files),
    chains:
      pieces.length === 0
        ? []
        : [
            ...pieces.flatMap((piece) => (isJoined ? piece.chains : piece.chains.slice(0, -1))),
            {
              from: isJoined ? ends.map((chain) => chain?.to[0] ?? '') : (ends[0]?.from ?? []),
              filters: [...(isJoined ? join : (ends[0]?.filters ?? [])), ...buildLook(input)],
              to: [CUT_PAD],
            },
          ],
  };
}

/** The card, as large as the result, before everything else: no look is laid on it. */
function putCardBefore({ cut, take }: CutInput, { from, to }: Piece, shown: PictureCut): PictureCut {
  if (!take.cardPath) throw new TypeError('The opening card was not drawn.');
  const rate = `${cut.frameRate.numerator}/${cut.frameRate.denominator}`;
  const number = shown.inputCount;
  const isAlone = shown.chains.length === 0;
  const [card, rest] = ['card', 'shown'];
  const colors = 'flags=bicubic+accurate_rnd+full_chroma_int:out_color_matrix=bt709:out_range=tv';
  const drawn: Chain = {
    from: [`${number}:v`],
    filters: [
      `scale=${cut.widthPx}:${cut.heightPx}:${colors}`,
      'format=yuv420p',
      'setsar=1',
      `loop=loop=${to - from - 1}:size=1`,
      `trim=end_frame=${to - from}`,
      `setpts=N/(${rate})/TB`,
    ],
    to: [isAlone ? CUT_PAD : card],
  };
  const input = [...shown.input, '-f', 'png_pipe', '-i', nameFile(take.cardPath)];
  const inputCount = number + 1;
  const { files } = shown;
  if (isAlone) return { input, inputCount, files, chains: [drawn] };
  return {
    input,
    inputCount,
    files,
    chains: [
      ...shown.chains.map((chain) => (chain.to[0] === CUT_PAD ? { ...chain, to: [rest] } : chain)),
      drawn,
      {
        from: [card, rest],
        filters: ['concat=n=2:v=1:a=0', 'format=yuv420p', `setpts=N/(${rate})/TB`],
        to: [CUT_PAD],
      },
    ],
  };
}

/**
 * One part going over into another: both are read at the rate of the recording for the whole length, mixed
 * frame by frame, and brought to the rate of the result after that.
 */
function buildDissolve(
  input: CutInput,
  { span, from, to }: Piece,
  { drawn, firstFrame }: TakePlace,
  firstInput: number,
): Read {
  const { cut, take, timeline, frames } = input;
  const { video } = take.facts;
  if (!video || drawn?.kind !== 'dissolve') throw new TypeError('A dissolve was expected.');
  const { frameCount } = drawn;
  const layer = (startUs: number, index: number, pad: string) => {
    const first = findFrameAt(frames, startUs);
    const whole = {
      ...span,
      sourceStartUs: startUs,
      firstFrame: first,
      firstOutput: 0,
      lastOutput: frameCount,
    };
    const own: CutInput = {
      ...input,
      cut: { ...cut, frameRate: video.frameRate },
      keyframesUs: [],
      timeline: {
        ...timeline,
        sourceFrames: Int32Array.from({ length: frameCount }, (_, frame) => first + frame),
      },
    };
    return buildPiece(own, { span: whole, from: 0, to: frameCount }, index, pad);
  };
  const pads = [`from${firstInput}`, `into${firstInput}`] as const;
  const layers = [
    layer(drawn.from.startUs, firstInput, pads[0]),
    layer(drawn.to.startUs, firstInput + 1, pads[1]),
  ];
  const own = `${video.frameRate.numerator}/${video.frameRate.denominator}`;
  const rate = `${cut.frameRate.numerator}/${cut.frameRate.denominator}`;
  const lengthS = (frameCount * video.frameRate.denominator) / video.frameRate.numerator;
  const divisor = video.rateKind === 'constant' ? findDivisor(video.frameRate, cut.frameRate) : null;
  const start = divisor === null ? 0 : (timeline.sourceFrames[from] ?? 0) - firstFrame;
  const byCount = [`trim=start_frame=${start}`, ...(divisor && divisor > 1 ? [`framestep=${divisor}`] : [])];
  const offsetS = outputUs(cut, from - span.firstOutput) / 1e6;
  const byTime = [
    `fps=${rate}:start_time=${offsetS.toFixed(6)}:round=near`,
    `tpad=stop_mode=clone:stop=${to - from}`,
  ];
  const even = (pad: string): Chain => ({
    from: [pad],
    // Held on for two frames more: the last one of a dissolve would else be the second part alone.
    filters: [`fps=${own}`, `tpad=stop_mode=clone:stop=2`, `settb=AVTB`],
    to: [`${pad}even`],
  });
  return {
    input: layers.flatMap((each) => each.input),
    files: layers.flatMap((each) => each.files),
    chains: [
      ...layers.flatMap((each) => each.chains),
      ...pads.map(even),
      {
        from: pads.map((pad) => `${pad}even`),
        filters: [
          `xfade=transition=fade:duration=${lengthS.toFixed(6)}:offset=0`,
          ...(divisor === null ? byTime : byCount),
          `setpts=N/(${rate})/TB`,
          `trim=end_frame=${to - from}`,
        ],
        to: [`piece${firstInput}`],
      },
    ],
  };
}

/** What is read for one piece. */
type Read = Omit<PictureCut, 'inputCount'>;

/** Writes what the filters of a cut read, into the folder where they run. */
export async function writeCutFiles({ files }: PictureCut, folder: string): Promise<void> {
  await Promise.all(files.map(({ name, text }) => writeFile(join(folder, name), text)));
}

interface Piece {
  readonly span: TimelineSpan;
  readonly from: number;
  readonly to: number;
}

function buildPiece(input: CutInput, piece: Piece, index: number, pad: string): Read {
  const { take, cut, timeline } = input;
  const { span, from, to } = piece;
  const file = findJoinedFile(take, span);
  const picture = file ? openJoined(file) : input.picture;
  const frames = file?.frames ?? input.frames;
  const before = file?.place.firstFrame ?? 0;
  const video = (file ?? take).facts.video;
  const { video: whole } = take.facts;
  const constantRate = whole?.rateKind === 'constant' ? whole.frameRate : null;
  const divisor = constantRate ? findDivisor(constantRate, cut.frameRate) : null;
  const rate = `${cut.frameRate.numerator}/${cut.frameRate.denominator}`;
  const firstFrame = (divisor === null ? span.firstFrame : (timeline.sourceFrames[from] ?? 0)) - before;
  const startUs = frames.timesUs[firstFrame] ?? 0;
  const isInterlaced = file ? file.facts.video?.interlace !== 'progressive' : cut.isDeinterlaced;
  const runUpUs = from > span.firstOutput && !isInterlaced ? SHORT_RUN_UP_US : RUN_UP_US;
  // By time a frame of the middle of a stretch is found from the start of the stretch on.
  const offsetUs = divisor === null ? outputUs(cut, from - span.firstOutput) : 0;
  // Of a take whose rate varies the frame that is shown there may have come long before.
  const shownUs = frames.timesUs[(timeline.sourceFrames[from] ?? 0) - before] ?? startUs;
  const nearUs = Math.min(startUs + offsetUs, Math.max(startUs, shownUs));
  const keyframeUs = file ? undefined : input.keyframesUs?.findLast((timeUs) => timeUs <= nearUs);
  const seekUs = Math.floor(
    keyframeUs === undefined ? Math.max(0, nearUs - runUpUs) : keyframeUs + BEYOND_KEYFRAME_US,
  );
  const previous = frames.timesUs[firstFrame - 1];
  const half = previous === undefined ? 0 : Math.floor((startUs - previous) / 2);
  const trimS = (startUs - half - seekUs) / 1e6;
  const zeroS = (startUs - seekUs) / 1e6;
  const combs = cut.recipe.picture.deinterlace === 'always' ? 'all' : 'interlaced';
  const deinterlace = isInterlaced && picture.isTake ? [`yadif=mode=send_frame:deint=${combs}`] : [];
  const common = isMadeAlike(take) ? buildCommonLook(picture, input.picture, file !== null) : [];
  const shown = timeline.sourceFrames.subarray(from, to);
  const steady =
    take.steady && !file
      ? buildSteadyFilter(
          take.steady,
          shown,
          input.picture.video,
          `steady-${index}-${shown[0] ?? 0}-${to - from}.trf`,
        )
      : null;
  const hidden = file ? [] : cut.recipe.picture.hidden;
  const hideIn = (chain: Chain): Chain[] => {
    const chains = hideAreas(chain, hidden, picture.video, startUs + offsetUs);
    const end = chains.at(-1) ?? chain;
    return [
      ...chains.slice(0, -1),
      { ...end, filters: [...end.filters, ...common, ...(steady ? [steady.filter] : [])] },
    ];
  };
  const byCount = [...(divisor && divisor > 1 ? [`framestep=${divisor}`] : []), `setpts=N/(${rate})/TB`];
  const byTime = [
    `setpts=PTS-(${zeroS.toFixed(6)})/TB`,
    `fps=${rate}:start_time=${(offsetUs / 1e6).toFixed(6)}:round=near`,
    `tpad=stop_mode=clone:stop=${Math.min(MOST_HELD_FRAMES, to - from)}`,
    `setpts=N/(${rate})/TB`,
  ];
  return {
    files: steady ? [steady.file] : [],
    input: [
      ...(seekUs > 0
        ? [...(keyframeUs === undefined ? [] : ['-noaccurate_seek']), '-ss', (seekUs / 1e6).toFixed(6)]
        : []),
      ...buildInputArgs(picture.path, picture.container),
    ],
    chains: hideIn({
      from: [`${index}:${picture.isTake ? (video?.streamIndex ?? 0) : 0}`],
      filters: [
        ...(half > 0 && (trimS > 0 || keyframeUs !== undefined) ? [`trim=start=${trimS.toFixed(6)}`] : []),
        ...deinterlace,
        ...(divisor === null ? byTime : byCount),
        `trim=end_frame=${to - from}`,
      ],
      to: [pad],
    }),
  };
}

function outputUs(cut: Pick<VideoCut, 'frameRate'>, frames: number): number {
  return (frames * cut.frameRate.denominator * 1e6) / cut.frameRate.numerator;
}

/** Whether all pieces are brought to one form before their look: to be joined, or to be moved. */
const isMadeAlike = (take: TakeFiles) => (take.joined ?? []).length > 0 || Boolean(take.steady);

function openJoined({ path, facts }: JoinedFile): PictureSource {
  if (!facts.video) throw new TypeError('Takes with a picture were expected.');
  return { path, container: facts.container, video: facts.video, isTake: true };
}

/**
 * Pictures of several takes have to be alike before they are joined: as large as those of the first, in
 * BT.709, black around those of another shape.
 */
function buildCommonLook(picture: PictureSource, first: PictureSource, isOther: boolean): string[] {
  if (!isOther && !picture.isTake) return ['format=yuv422p10le', 'setsar=1'];
  const { widthPx, heightPx } = first.video;
  const inside = containSize(picture.video, first.video);
  const isPadded = inside.widthPx !== widthPx || inside.heightPx !== heightPx;
  return [
    ...buildPictureFilters(picture.video, inside, { isFast: false, isDeep: true }),
    ...(isPadded ? [`pad=${widthPx}:${heightPx}:(ow-iw)/2:(oh-ih)/2:color=black`] : []),
  ];
}

const nameBarColor = (framing: Framing) => (readBarLevel(framing) > 0 ? 'white' : 'black');

/** Size, color and stance of the result. */
function buildLook({ cut, take, ...input }: CutInput): string[] {
  const { video } = input.picture;
  const picture = isMadeAlike(take) ? { video: describeWorkingPicture(video, video) } : input.picture;
  const { turnDegrees, isMirrored, color } = cut.recipe.picture;
  const bars = measureBars(picture.video, cut.recipe.picture);
  const inside = (edge: number, bar: number) =>
    bar === 0 ? edge : Math.max(2, 2 * Math.round((edge * (1 - 2 * bar)) / 2));
  const size = turnSize(
    { widthPx: inside(cut.widthPx, bars.x), heightPx: inside(cut.heightPx, bars.y) },
    turnDegrees,
  );
  const isBarred = bars.x > 0 || bars.y > 0;
  const turn = {
    0: [],
    90: ['transpose=clock'],
    180: ['hflip', 'vflip'],
    270: ['transpose=cclock'],
  }[turnDegrees];
  const isColored = !isPlainColor(color);
  return [
    ...buildFrameFilters(picture.video, cut.recipe.picture),
    ...buildPictureFilters(picture.video, size, { isFast: false, isDeep: isColored }),
    ...buildColorFilters(color),
    ...turn,
    ...(isMirrored ? ['hflip'] : []),
    ...(isBarred
      ? [`pad=${cut.widthPx}:${cut.heightPx}:(ow-iw)/2:(oh-ih)/2:color=${nameBarColor(cut.recipe.picture)}`]
      : []),
  ];
}
