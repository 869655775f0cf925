import {
  buildCurves,
  chooseCurve,
  readCurve,
  readCurveAtCrf,
  type Curve,
  type Preference,
} from '../fit/curves.ts';
import { LEAST_CRF } from '../fit/rate-control.ts';
import type { FitSamples } from '../fit/samples.ts';
import {
  AIM_SHARE,
  budgetVideo,
  estimateMp4Overhead,
  estimateUsefulBps,
  TRANSPARENT_BITS_PER_PIXEL,
} from '../fit/video-budget.ts';
import { fitSizeInside, turnSize, type SizePx } from '../geometry/turn.ts';
import type { TakeComplexity } from '../media/analysis.ts';
import { measureFramesUs, readRate, type Rational, type VideoFacts } from '../media/facts.ts';
import type { Recipe } from '../recipe/recipe.ts';
import { findFramesOfRange, type FrameTimes } from '../time/frame-times.ts';
import { measureRangeUs, type TimeRange } from '../time/range.ts';
import type { SoundPlan } from './plan.ts';
import type { Ceilings } from './read-ceilings.ts';

/** Where no limit asks for bytes to be saved or spent: nobody sees a difference to the recording. */
export const TRANSPARENT_CRF = 17;

export interface PictureInput {
  readonly video: VideoFacts;
  readonly recipe: Recipe;
  readonly frames: FrameTimes;
  readonly keep: TimeRange;
  readonly ceilings: Ceilings;
  readonly samples: FitSamples | null;
  readonly complexity: TakeComplexity | null;
  readonly preference: Preference;
  /** The sound for an output of this length. */
  readonly planSound: (durationUs: number) => SoundPlan | null;
}

export interface PictureResult {
  readonly size: SizePx;
  readonly frameRate: Rational;
  readonly frameCount: number;
  readonly durationUs: number;
  readonly sound: SoundPlan | null;
  readonly otherBytes: number;
  readonly videoBps: number;
  readonly usefulBps: number;
  readonly leastCrf: number;
  readonly rateModel: { readonly crf: number; readonly slope: number; readonly sampledShare: number } | null;
  readonly predictedSsim: number | null;
  readonly predictedOwnSsim: number | null;
  readonly maxBytes: number | null;
}

/** The curves of a take for its kept part, none without samples; those that limits and the wish for the frame rate leave. */
export function findCurves(
  input: Pick<PictureInput, 'samples' | 'complexity' | 'keep' | 'ceilings' | 'video' | 'recipe'>,
): Curve[] {
  const { samples, ceilings, video } = input;
  if (!samples) return [];
  const full = fitSizeInside(turnSize(video, input.recipe.turnDegrees), ceilings.size, 2);
  const most = Math.min(full.widthPx, full.heightPx);
  const least = findLeastLines(full, ceilings);
  const divisor = countDivisor(video.frameRate, ceilings.maxFrameRate);
  return buildCurves(samples, input.complexity, input.keep)
    .filter((curve) => curve.lines <= most && (curve.lines >= least || curve.lines === most))
    .filter((curve) => divisor === 1 || curve.rateDivisor === divisor || curve.rateDivisor === 1)
    .filter(
      (curve) =>
        curve.rateDivisor === 1 ||
        readRate(video.frameRate) / curve.rateDivisor >= (ceilings.minFrameRate ?? 0),
    );
}

/** Divides the bytes between sound, tables and picture and chooses lines and frame rate: from the samples where there are some, else by bits a pixel. */
export function planPicture(input: PictureInput): PictureResult | null {
  const { video, ceilings, recipe } = input;
  const wish = recipe.fit;
  const full = fitSizeInside(turnSize(video, recipe.turnDegrees), ceilings.size, 2);
  const maxBytes = wish?.maxBytes
    ? Math.min(wish.maxBytes, ceilings.maxBytes ?? Infinity)
    : ceilings.maxBytes;
  const leastCrf = maxBytes === null ? TRANSPARENT_CRF : LEAST_CRF;
  const least = findLeastLines(full, ceilings);
  const ceilingDivisor = countDivisor(video.frameRate, ceilings.maxFrameRate);
  const frameOf = (divisor: number) => {
    const frameRate: Rational =
      divisor === 1
        ? video.frameRate
        : { numerator: video.frameRate.numerator, denominator: video.frameRate.denominator * divisor };
    const frameCount = countFrames(
      input.frames,
      input.keep,
      video.rateKind === 'constant' && divisor === 1,
      readRate(frameRate),
    );
    const durationUs = Math.round(measureFramesUs({ frameCount, frameRate }));
    const sound = input.planSound(durationUs);
    const otherBytes = estimateOtherBytes(frameCount, durationUs, sound);
    return {
      frameRate,
      frameCount,
      durationUs,
      sound,
      otherBytes,
      pictureBytes: maxBytes === null ? null : Math.max(0, maxBytes * AIM_SHARE - otherBytes),
    };
  };
  const usefulOf = (size: SizePx, frameRate: Rational) =>
    Math.ceil(
      estimateUsefulBps(
        {
          frameRate: readRate(frameRate),
          sourceBps: video.bitrateBps || 8_000_000,
          sourceGain: findSourceGain(video),
          sourcePixels: video.widthPx * video.heightPx,
        },
        size,
      ),
    );
  const finish = (
    frame: ReturnType<typeof frameOf>,
    size: SizePx,
    curve: Curve | null,
  ): PictureResult | null => {
    const seconds = frame.durationUs / 1e6;
    const usefulBps = usefulOf(size, frame.frameRate);
    const guessedBps =
      maxBytes === null
        ? size.widthPx * size.heightPx * readRate(frame.frameRate) * TRANSPARENT_BITS_PER_PIXEL
        : Infinity;
    const transparentBps = curve ? (readCurveAtCrf(curve, leastCrf) * 8) / seconds : guessedBps;
    const availableBps = frame.pictureBytes === null ? Infinity : (frame.pictureBytes * 8) / seconds;
    const videoBps = Math.floor(Math.min(availableBps, usefulBps, transparentBps));
    if (videoBps < 1) return null;
    const sampledUs = (input.samples?.windows ?? []).reduce((sum, window) => sum + window.durationUs, 0);
    const read = curve ? readCurve(curve, (videoBps * seconds) / 8) : null;
    return {
      ...frame,
      size,
      videoBps,
      usefulBps,
      leastCrf,
      maxBytes,
      rateModel: read
        ? { crf: read.crf, slope: read.slope, sampledShare: Math.min(1, sampledUs / frame.durationUs) }
        : null,
      predictedSsim: read ? Math.round(read.ssim * 1e4) / 1e4 : null,
      predictedOwnSsim: read ? Math.round(read.ownSsim * 1e4) / 1e4 : null,
    };
  };
  const curves = findCurves(input);
  if (curves.length > 0) {
    const wished = wish?.lines
      ? curves.filter((curve) => curve.lines === wish.lines && curve.rateDivisor === (wish.rateDivisor ?? 1))
      : [];
    const divisorOf = (curve: Curve) => Math.max(curve.rateDivisor, ceilingDivisor);
    const chosen = chooseCurve(wished.length > 0 ? wished : curves, input.preference, (curve) => {
      const frame = frameOf(divisorOf(curve));
      const transparent = readCurveAtCrf(curve, leastCrf);
      return Math.min(frame.pictureBytes ?? Infinity, transparent);
    });
    if (chosen && chosen.crf <= MOST_SAMPLED_CRF)
      return finish(
        frameOf(divisorOf(chosen.curve)),
        fitSizeInside(
          turnSize(video, recipe.turnDegrees),
          {
            ...ceilings.size,
            shortEdgePx: Math.min(chosen.curve.lines, ceilings.size.shortEdgePx ?? Infinity),
          },
          2,
        ),
        chosen.curve,
      );
  }
  const frame = frameOf(Math.max(ceilingDivisor, wish?.rateDivisor ?? 1));
  const wishedFull = wish?.lines
    ? fitSizeInside(full, { shortEdgePx: Math.max(least, wish.lines) }, 2)
    : full;
  const budget = budgetVideo({
    size: wishedFull,
    frameRate: readRate(frame.frameRate),
    durationUs: frame.durationUs,
    pictureBytes: frame.pictureBytes,
    leastLines: wish?.lines ? Math.max(least, wish.lines) : least,
    sourceBps: video.bitrateBps || 8_000_000,
    sourceGain: findSourceGain(video),
    sourcePixels: video.widthPx * video.heightPx,
  });
  return budget ? finish(frame, budget.size, null) : null;
}

/** Coarser than this the samples say nothing any more, and fewer lines than were sampled are the better picture. */
const MOST_SAMPLED_CRF = 42;

/** How much further the source's coding goes than H.264. */
function findSourceGain(video: VideoFacts): number {
  return { hevc: 1.8, vp9: 1.6, av1: 2 }[video.codec] ?? 1;
}

function findLeastLines(full: SizePx, ceilings: Ceilings): number {
  const [short, long] = [Math.min(full.widthPx, full.heightPx), Math.max(full.widthPx, full.heightPx)];
  const isWide = full.widthPx >= full.heightPx;
  const byEdges = Math.max(
    isWide ? ceilings.floors.heightPx : ceilings.floors.widthPx,
    ((isWide ? ceilings.floors.widthPx : ceilings.floors.heightPx) * short) / long,
  );
  return Math.max(ceilings.floors.shortEdgePx, (ceilings.floors.longEdgePx * short) / long, byEdges);
}

/** Every so many frames one is kept, so that the rate stays inside its limit. */
export function countDivisor(rate: Rational, maxRate: number | null): number {
  return maxRate === null || readRate(rate) <= maxRate * 1.0011
    ? 1
    : Math.ceil(readRate(rate) / (maxRate * 1.0011));
}

function countFrames(frames: FrameTimes, keep: TimeRange, isOneToOne: boolean, rate: number): number {
  if (!isOneToOne) return Math.max(1, Math.floor((measureRangeUs(keep) * rate) / 1_000_000 + 1e-6));
  const { first, last } = findFramesOfRange(frames, keep);
  return Math.max(1, last - first);
}

/** Bytes besides the picture: sound and the file's own tables. */
export function estimateOtherBytes(frameCount: number, durationUs: number, sound: SoundPlan | null): number {
  const seconds = durationUs / 1_000_000;
  const packets = sound ? (seconds * sound.rateHz) / 1024 : 0;
  return Math.round(
    estimateMp4Overhead(frameCount, packets, durationUs) + ((sound?.bitrateBps ?? 0) * seconds) / 8,
  );
}
