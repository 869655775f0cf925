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
import { measureSpread } from '../color/color-table.ts';
import { frameSize } from '../geometry/frame.ts';
import { fitSizeInside, type SizePx } from '../geometry/turn.ts';
import { readRate, type MediaFacts, type Rational, type VideoFacts } from '../media/facts.ts';
import type { Recipe } from '../recipe/recipe.ts';
import type { FitChoice } from '../recipe/fit-choice.ts';
import type { TakeSeries } from '../series/take-series.ts';
import { chooseFrameRate, divideRate, type ChosenRate } from './choose-rate.ts';
import { buildTakeTimeline, resolveKeep } from './plan-timeline.ts';
import type { SoundPlan } from './plan.ts';
import type { Ceilings } from '../limits/ceilings.ts';

/** Where no limit asks for bytes to be saved or spent: nobody sees a difference to the recording. */
export const TRANSPARENT_CRF = 17;
/**
 * What is brightened is coded finer: three rate factors for each time that levels are spread, so often at
 * most.
 */
const MOST_FINER = 2;

export interface PictureInput {
  readonly facts: MediaFacts;
  readonly video: VideoFacts;
  readonly recipe: Recipe;
  readonly series: TakeSeries;
  readonly ceilings: Ceilings;
  /** What a person has chosen in place of the best that fits. */
  readonly choice: FitChoice | null;
  readonly samples: FitSamples | null;
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
  readonly model: { readonly crf: number; readonly slope: number; readonly sampledShare: number } | null;
  readonly predictedSsim: number | null;
  readonly predictedOwnSsim: number | null;
  readonly maxBytes: number | null;
}

/**
 * The curves of a take for its kept part, none without samples; those that limits and the wish for the frame
 * rate leave.
 */
export function findCurves(
  input: Pick<PictureInput, 'samples' | 'series' | 'ceilings' | 'facts' | 'video' | 'recipe'>,
): Curve[] {
  const { samples, ceilings, video } = input;
  if (!samples) return [];
  const full = fitSizeInside(frameSize(video, input.recipe.picture), ceilings.size, 2);
  const most = Math.min(full.widthPx, full.heightPx);
  const least = findLeastLines(full, ceilings);
  const divisor = chooseFrameRate(video.frameRate, ceilings).divisor ?? 1;
  const keep = resolveKeep(input.facts, input.recipe, input.series);
  return buildCurves(samples, input.series.complexity, keep)
    .filter((curve) => curve.lines <= most && (curve.lines >= least || curve.lines === most))
    .filter((curve) => divisor === 1 || curve.rateDivisor === divisor || curve.rateDivisor === 1)
    .filter(
      (curve) =>
        curve.rateDivisor === 1 ||
        readRate(video.frameRate) / curve.rateDivisor >= (ceilings.minFrameRate ?? 0),
    );
}

/**
 * Divides the bytes between sound, tables and picture and chooses lines and frame rate: from the samples
 * where there are some, else by bits a pixel.
 */
export function planPicture(input: PictureInput): PictureResult | null {
  const { video, ceilings, recipe } = input;
  const wish = input.choice;
  const full = fitSizeInside(frameSize(video, recipe.picture), ceilings.size, 2);
  const maxBytes = wish?.maxBytes
    ? Math.min(wish.maxBytes, ceilings.maxBytes ?? Infinity)
    : ceilings.maxBytes;
  const { color } = recipe.picture;
  const spread = color ? measureSpread(color) : 1;
  const leastCrf = (maxBytes === null ? TRANSPARENT_CRF : LEAST_CRF) - Math.min(MOST_FINER, spread - 1) * 3;
  const least = findLeastLines(full, ceilings);
  const base = chooseFrameRate(video.frameRate, ceilings);
  const frameOf = (chosen: ChosenRate) => {
    const frameRate = chosen.rate;
    const { facts, series } = input;
    const timeline = buildTakeTimeline(facts, series, recipe, frameRate, ceilings.maxUs);
    const { frameCount, durationUs } = timeline;
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
    // What is coded is told by power: noise and traces of the recording's own coding grow by the square.
    Math.ceil(
      spread ** 2 *
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
      model: read
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
    const rateOf = (curve: Curve) => halveRate(base, curve.rateDivisor, video.frameRate, ceilings);
    const chosen = chooseCurve(wished.length > 0 ? wished : curves, input.preference, (curve) => {
      const frame = frameOf(rateOf(curve));
      const transparent = readCurveAtCrf(curve, leastCrf);
      return Math.min(frame.pictureBytes ?? Infinity, transparent);
    });
    if (chosen && chosen.crf <= MOST_SAMPLED_CRF)
      return finish(
        frameOf(rateOf(chosen.curve)),
        fitSizeInside(
          frameSize(video, recipe.picture),
          {
            ...ceilings.size,
            shortEdgePx: Math.min(chosen.curve.lines, ceilings.size.shortEdgePx ?? Infinity),
          },
          2,
        ),
        chosen.curve,
      );
  }
  const frame = frameOf(halveRate(base, wish?.rateDivisor ?? 1, video.frameRate, ceilings));
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

/**
 * Coarser than this the samples say nothing any more, and fewer lines than were sampled are the better
 * picture.
 */
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

/** Half of the recording's own rate where that is asked for and the limits let it be. */
function halveRate(
  base: ChosenRate,
  divisor: number,
  source: Rational,
  ceilings: Pick<Ceilings, 'minFrameRate'>,
): ChosenRate {
  if (divisor === 1 || base.divisor !== 1) return base;
  const rate = divideRate(source, divisor);
  return readRate(rate) >= (ceilings.minFrameRate ?? 0) ? { rate, divisor } : base;
}

/** Bytes besides the picture: sound and the file's own tables. */
export function estimateOtherBytes(frameCount: number, durationUs: number, sound: SoundPlan | null): number {
  const seconds = durationUs / 1_000_000;
  const packets = sound ? (seconds * sound.rateHz) / 1024 : 0;
  return Math.round(
    estimateMp4Overhead(frameCount, packets, durationUs) + ((sound?.bitrateBps ?? 0) * seconds) / 8,
  );
}
