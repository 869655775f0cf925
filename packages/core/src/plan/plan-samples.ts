import { LEAST_CRF } from '../fit/rate-control.ts';
import type { SampleSpec, SampleWay } from '../fit/samples.ts';
import { integrateColumns } from '../fit/weigh-spans.ts';
import { LINE_STEPS } from '../fit/video-budget.ts';
import { isPlainColor } from '../color/color-settings.ts';
import { writeCanonicalJson } from '../json/canonical-json.ts';
import { frameSize, isReframed } from '../geometry/frame.ts';
import { fitSizeInside } from '../geometry/turn.ts';
import type { Limit } from '../limits/limit.ts';
import type { TakeSeries } from '../series/take-series.ts';
import { readRate, type MediaFacts } from '../media/facts.ts';
import type { Recipe } from '../recipe/recipe.ts';
import { readCeilings } from '../limits/steer.ts';
import { buildPlan } from './build-plan.ts';
import type { PlanInput } from './plan-input.ts';
import { chooseContainer, chooseVideoCodec } from './choose-container.ts';
import { chooseFrameRate } from './choose-rate.ts';
import { resolveKeep } from './plan-timeline.ts';

const WINDOW_US = 2_000_000;
const MOST_WINDOWS = 5;
/** Steps between sampled lines: each holds at most this share of the lines above it. */
const LINE_RATIO = 0.76;
const MOST_LINES = 4;
/** Lines above which nothing is sampled: assignments hardly ever ask for more. */
const MOST_SAMPLED_LINES = 1080;
const CRFS = [20, 27, 34] as const;
const VP9_CRFS = [24, 34, 44] as const;
/** Raised whenever the same window would come out otherwise. */
const SAMPLES_VERSION = 7;

/**
 * What to sample of a take so that Fit can tell what each size would look like; null for what has no picture
 * in motion, and where the stream is taken over anyway.
 */
export function planSamples(
  facts: MediaFacts,
  series: TakeSeries,
  recipe: Recipe,
  limits: readonly Limit[],
): SampleSpec | null {
  const { video } = facts;
  if (!video || facts.kind !== 'video') return null;
  const ceilings = readCeilings(limits, 'video');
  const container = chooseContainer('video', ceilings, facts);
  const codec = container && chooseVideoCodec(container, ceilings);
  // What is asked for so rarely is made without trying first.
  if (codec === null || codec === 'hevc') return null;
  const size = fitSizeInside(
    frameSize(video, recipe.picture),
    { ...ceilings.size, shortEdgePx: Math.min(ceilings.size.shortEdgePx ?? Infinity, MOST_SAMPLED_LINES) },
    2,
  );
  const top = Math.min(size.widthPx, size.heightPx);
  const lines = [top];
  for (const step of LINE_STEPS)
    if (
      lines.length < MOST_LINES &&
      step <= (lines.at(-1) ?? 0) * LINE_RATIO &&
      step >= Math.max(240, ceilings.floors.shortEdgePx)
    )
      lines.push(step);
  const divisor = chooseFrameRate(video.frameRate, ceilings).divisor ?? 1;
  const canHalve =
    divisor === 1 &&
    readRate(video.frameRate) >= 47 &&
    readRate(video.frameRate) / 2 >= (ceilings.minFrameRate ?? 0);
  const rateDivisors: (1 | 2)[] = canHalve ? [1, 2] : [divisor === 2 ? 2 : 1];
  return {
    key: [
      SAMPLES_VERSION,
      codec,
      ...lines,
      ...rateDivisors.map((each) => `/${each}`),
      ...nameShape(recipe),
    ].join(' '),
    codec,
    lines,
    rateDivisors,
    crfs: codec === 'vp9' ? VP9_CRFS : CRFS,
    windows: chooseWindows(facts, series, recipe),
  };
}

/** What makes another picture of the same take: its samples tell nothing of this one. */
function nameShape({ picture }: Recipe): string[] {
  const { straightenDegrees, crop, color } = picture;
  const isShaped = isReframed(picture) || !isPlainColor(color);
  return isShaped ? [writeCanonicalJson({ straightenDegrees, crop, color })] : [];
}

/** Nearer to a sample than this another one tells nothing new. */
const LEAST_CRF_STEP = 0.4;

/**
 * One more way to sample: just where the plan stands by what the samples say so far. null where it needs
 * none.
 */
export function planNextSample(input: PlanInput): SampleWay | null {
  const { plan } = buildPlan(input);
  const { video } = input.facts;
  if (!video || !input.samples || plan?.kind !== 'video' || plan.method !== 'code' || !plan.rate.model)
    return null;
  const lines = Math.min(plan.cut.widthPx, plan.cut.heightPx);
  const rateDivisor = readRate(video.frameRate) / readRate(plan.cut.frameRate) > 1.5 ? 2 : 1;
  const { crf } = plan.rate.model;
  const own = input.samples.points.filter(
    (point) => point.lines === lines && point.rateDivisor === rateDivisor,
  );
  if (own.length === 0 || crf < LEAST_CRF || own.some((point) => Math.abs(point.crf - crf) < LEAST_CRF_STEP))
    return null;
  return { lines, rateDivisor, crf: Math.round(crf * 10) / 10 };
}

/**
 * Windows of two seconds that stand for all degrees of complexity of the kept part: it is divided into so
 * many classes of equal length by complexity, and the middle of each is taken, moved back onto a keyframe
 * where one is near.
 */
function chooseWindows(facts: MediaFacts, series: TakeSeries, recipe: Recipe): SampleSpec['windows'] {
  const keep = resolveKeep(facts, recipe, series);
  const lengthUs = keep.finishUs - keep.startUs;
  if (lengthUs <= WINDOW_US * 2) return [{ startUs: keep.startUs, durationUs: lengthUs }];
  const count = Math.floor(lengthUs / WINDOW_US);
  const starts = Array.from({ length: count }, (_, index) => keep.startUs + index * WINDOW_US);
  const { complexity } = series;
  const weigh = (startUs: number) =>
    complexity ? integrateColumns(complexity, startUs, startUs + WINDOW_US, (bits) => bits) : 1;
  const wanted = Math.min(MOST_WINDOWS, Math.max(2, Math.ceil(count / 3)), count);
  const byWeight = starts
    .map((startUs) => ({ startUs, weight: weigh(startUs) }))
    .sort((left, right) => left.weight - right.weight || left.startUs - right.startUs);
  const chosen = Array.from(
    { length: wanted },
    (_, index) => byWeight[Math.floor(((index + 0.5) * byWeight.length) / wanted)]?.startUs ?? keep.startUs,
  );
  const snapped = listFromMiddle(chosen).map((startUs) =>
    snapToKeyframe(startUs, keep.startUs, keep.finishUs, series.keyframesUs),
  );
  return [...new Set(snapped)].map((startUs) => ({ startUs, durationUs: WINDOW_US }));
}

/** The one in the middle first, then from both ends inwards, the far end before the near one. */
function listFromMiddle(ascending: readonly number[]): number[] {
  const middle = ascending.length >> 1;
  const others = ascending.filter((_, index) => index !== middle);
  const listed = others.map((_, turn) => others.at(turn % 2 === 0 ? -1 - (turn >> 1) : turn >> 1) ?? 0);
  return [ascending[middle] ?? 0, ...listed];
}

function snapToKeyframe(
  startUs: number,
  leastUs: number,
  finishUs: number,
  keyframesUs: readonly number[],
): number {
  const near = keyframesUs.findLast((timeUs) => timeUs <= startUs + WINDOW_US / 2);
  return near !== undefined &&
    near >= leastUs &&
    near + WINDOW_US <= finishUs &&
    Math.abs(near - startUs) <= WINDOW_US
    ? near
    : startUs;
}
