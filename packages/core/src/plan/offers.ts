import { buildHull, readCurve, type Curve } from '../fit/curves.ts';
import { measureFramesUs, readRate } from '../media/facts.ts';
import type { FitChoice } from '../recipe/fit-choice.ts';
import { buildPlan } from './build-plan.ts';
import type { PlanInput } from './plan-input.ts';
import { findCurves } from './plan-picture.ts';
import type { VideoPlan } from './plan.ts';
import { readCeilings } from '../limits/steer.ts';

/** One way to make the file, with what it comes to and why one would want it. */
export interface Offer {
  readonly id: 'best' | 'smaller' | 'sound-first' | 'fewer-frames' | 'chosen';
  readonly title: string;
  readonly plan: VideoPlan;
  readonly choice: FitChoice | null;
  readonly why: string;
}

/** What one can choose between: the best that fits, and up to three honest others. */
export interface Offers {
  readonly curves: readonly Curve[];
  readonly hull: ReturnType<typeof buildHull>;
  readonly offers: readonly Offer[];
}

/** Least share of the best file's bytes that a smaller one has to save. */
const SMALLER_SHARE = 0.6;
/** Likeness that a smaller file may lose. */
const MOST_LOST = 0.02;
const SOUND_FIRST_BPS = 256_000;
/** Sound of a smaller file, a stereo pair: still good for music. */
const SMALL_SOUND_BPS = 128_000;

/** Builds the offers of a video take; only the best where there are no samples of it. */
export function buildOffers(input: PlanInput): Offers {
  const { facts, series, recipe } = input;
  const none: Offers = { curves: [], hull: [], offers: [] };
  if (facts.kind !== 'video' || !facts.video || !series.frames) return none;
  const planWith = (choice: FitChoice | null) => {
    const { plan } = buildPlan({ ...input, choice });
    return plan?.kind === 'video' ? plan : null;
  };
  const best = planWith(null);
  if (!best) return none;
  const curves = findCurves({
    samples: input.samples ?? null,
    series,
    facts,
    ceilings: readCeilings(input.limits, 'video'),
    video: facts.video,
    recipe,
  });
  const hull = buildHull(curves);
  const offers: Offer[] = [
    { id: 'best', title: 'Best that fits', plan: best, choice: null, why: explainBest(best, curves, input) },
  ];
  const smaller = curves.length > 0 ? findSmaller(best, curves) : null;
  const smallerPlan = smaller ? planWith(smaller) : null;
  if (smaller && smallerPlan && smallerPlan.prediction.bytes <= best.prediction.bytes * 0.8)
    offers.push({
      id: 'smaller',
      title: 'Smaller, for slow internet',
      plan: smallerPlan,
      choice: smaller,
      why: 'Most of the clarity for far fewer megabytes.',
    });
  const soundBps = best.sound?.bitrateBps ?? 0;
  const stereoBps = (soundBps * 2) / (best.sound?.channels ?? 2);
  if (best.method === 'code' && best.sound?.codec === 'aac' && stereoBps < SOUND_FIRST_BPS) {
    const choice: FitChoice = {
      lines: null,
      rateDivisor: 1,
      maxBytes: best.rate.maxBytes === null ? null : best.rate.maxBytes,
      soundBps: SOUND_FIRST_BPS,
    };
    const plan = planWith(choice);
    if (plan && (plan.sound?.bitrateBps ?? 0) > soundBps)
      offers.push({
        id: 'sound-first',
        title: 'Sound first',
        plan,
        choice,
        why: 'Music gets more of the bytes, the picture what is left.',
      });
  }
  const half = curves.find((curve) => curve.rateDivisor === 2);
  if (
    half &&
    best.method === 'code' &&
    readRate(best.cut.frameRate) > readRate(facts.video.frameRate) * 0.75
  ) {
    const lines =
      curves
        .filter((curve) => curve.rateDivisor === 2)
        .map((curve) => curve.lines)
        .sort((left, right) => right - left)
        .find((each) => each >= Math.min(best.cut.widthPx, best.cut.heightPx)) ?? half.lines;
    const choice: FitChoice = { lines, rateDivisor: 2, maxBytes: null, soundBps: null };
    const plan = planWith(choice);
    if (plan)
      offers.push({
        id: 'fewer-frames',
        title: 'Sharper, fewer pictures',
        plan,
        choice,
        why: 'Half the pictures a second: each is sharper, fast movement less smooth.',
      });
  }
  if (input.choice && !offers.some((offer) => isSameChoice(offer.choice, input.choice ?? null))) {
    const plan = planWith(input.choice);
    if (plan)
      offers.push({
        id: 'chosen',
        title: 'Your choice',
        plan,
        choice: input.choice,
        why: 'The point that you chose in the chart.',
      });
  }
  return { curves, hull, offers };
}

export function isSameChoice(left: FitChoice | null, right: FitChoice | null): boolean {
  if (left === null || right === null) return left === right;
  return (
    left.lines === right.lines &&
    left.rateDivisor === right.rateDivisor &&
    left.maxBytes === right.maxBytes &&
    left.soundBps === right.soundBps
  );
}

/** The smallest file that loses little: along what no other way of coding beats, in steps of a twentieth. */
function findSmaller(best: VideoPlan, curves: readonly Curve[]): FitChoice | null {
  const durationS = measureFramesUs(best.cut) / 1e6;
  const bestVideo = (best.rate.videoBps * durationS) / 8;
  const other =
    best.method === 'code'
      ? best.prediction.bytes - bestVideo
      : ((best.sound?.bitrateBps ?? 0) * durationS) / 8;
  const likeness = best.prediction.ssim ?? 1;
  const full = best.prediction.bytes - other;
  let chosen: { lines: number; rateDivisor: 1 | 2; bytes: number } | null = null;
  for (let share = SMALLER_SHARE; share >= 0.1; share -= 0.05) {
    const bytes = full * share;
    const top = curves
      .filter((curve) => curve.rateDivisor === 1)
      .map((curve) => ({ curve, ...readCurve(curve, bytes) }))
      .sort((left, right) => right.ssim - left.ssim)[0];
    if (!top || (chosen && top.ssim < likeness - MOST_LOST)) break;
    chosen = { lines: top.curve.lines, rateDivisor: top.curve.rateDivisor, bytes };
  }
  return chosen
    ? {
        lines: chosen.lines,
        rateDivisor: chosen.rateDivisor,
        maxBytes: Math.max(
          50_000,
          Math.round((chosen.bytes + other) / 0.985 / 1e5) * 1e5 ||
            Math.round((chosen.bytes + other) / 0.985),
        ),
        soundBps: SMALL_SOUND_BPS,
      }
    : null;
}

function explainBest(plan: VideoPlan, curves: readonly Curve[], input: PlanInput): string {
  if (plan.method === 'rewrap')
    return 'The recording already meets the limits: its picture is taken over as it is, nothing is lost.';
  if (plan.method === 'cut')
    return 'Only cut: the picture between the ends is taken over as it is, nothing is lost.';
  const lines = Math.min(plan.cut.widthPx, plan.cut.heightPx);
  const seconds = measureFramesUs(plan.cut) / 1e6;
  const higher = curves.find((curve) => curve.lines > lines && curve.rateDivisor === 1);
  if (higher && plan.prediction.ssim !== null) {
    const lost = readCurve(higher, (plan.rate.videoBps * seconds) / 8).ssim;
    if (lost < plan.prediction.ssim)
      return `${lines} lines: with ${higher.lines} each line would get too few bytes and the picture would be softer.`;
  }
  if (plan.rate.maxBytes === null) return 'No size is asked for: as clear as is of use.';
  if (plan.prediction.bytes / plan.rate.maxBytes < 0.9)
    return 'As clear as is of use; more bytes would not show.';
  const keeps = {
    motion: ' Smooth movement is kept before lines.',
    sharpness: ' Sharp lines are kept before smooth movement.',
    balanced: '',
  }[input.preference ?? 'balanced'];
  return `All of the size is used: the most like the recording of everything that fits.${keeps}`;
}
