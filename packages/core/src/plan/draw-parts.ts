import type { SoundPeaks, TakeComplexity } from '../media/analysis.ts';
import type { MediaFacts } from '../media/facts.ts';
import type { Recipe } from '../recipe/recipe.ts';
import type { SoundBlocks } from '../series/sound-blocks.ts';
import {
  DRAWN_SOURCE,
  EMPTY_SERIES,
  type DrawnPart,
  type TakePlace,
  type TakeSeries,
} from '../series/take-series.ts';
import { buildConstantFrameTimes, snapRangeToFrames } from '../time/frame-times.ts';
import type { TimeRange } from '../time/range.ts';
import { placeSpan } from './place-span.ts';

interface Measured {
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
}

interface Drawn extends Measured {
  readonly source: typeof DRAWN_SOURCE;
  readonly drawn: DrawnPart;
}

/** How much of an ordinary second's bits words on an even ground take. */
const CARD_BITS = 0.02;
/** A dissolve of fewer frames is a cut. */
const LEAST_DISSOLVE_FRAMES = 2;

/**
 * What a recipe shows beside what was recorded, as if it had been: the card before everything else, and each
 * part that goes over into the next. Dissolves take up to half of the shorter part.
 */
export function drawParts(
  takes: Measured,
  recipe: Partial<Pick<Recipe, 'spans' | 'card'>>,
  places: readonly TakePlace[],
): Drawn[] {
  const { spans = [], card = null } = recipe;
  const dissolves = spans.flatMap(({ dissolveUs }, into) => {
    const [before, own] = [spans[into - 1], spans[into]].map((span) => span && placeSpan(span, places));
    return dissolveUs !== undefined && before && own
      ? (drawDissolve(takes, into, before, own, dissolveUs) ?? [])
      : [];
  });
  return card && takes.facts.video ? [...dissolves, drawCard(takes, card.lengthUs)] : dissolves;
}

function drawCard({ facts, series }: Measured, lengthUs: number): Drawn {
  const { video } = facts;
  if (!video) throw new TypeError('A card stands before a picture.');
  const { numerator, denominator } = video.frameRate;
  const frameCount = Math.max(1, Math.round((lengthUs * numerator) / denominator / 1e6));
  const frames = buildConstantFrameTimes(0, frameCount, video.frameRate);
  const { complexity } = series;
  const mean = complexity && complexity.bits.reduce((sum, bits) => sum + bits, 0) / complexity.bits.length;
  return {
    source: DRAWN_SOURCE,
    drawn: { kind: 'card', frameCount },
    facts: describePart(facts, frames.endUs),
    series: {
      ...EMPTY_SERIES,
      frames,
      keyframesUs: [0],
      complexity: complexity && {
        columnUs: complexity.columnUs,
        bits: new Array<number>(Math.ceil(frames.endUs / complexity.columnUs)).fill((mean ?? 0) * CARD_BITS),
      },
    },
  };
}

function drawDissolve(
  { facts, series }: Measured,
  into: number,
  before: TimeRange,
  own: TimeRange,
  wantedUs: number,
): Drawn | null {
  const mostUs = Math.min(before.finishUs - before.startUs, own.finishUs - own.startUs) / 2;
  const lengthUs = Math.min(wantedUs, mostUs);
  const rate = facts.video?.frameRate ?? null;
  if (!rate || !series.frames) {
    const from = { startUs: Math.round(before.finishUs - lengthUs), finishUs: before.finishUs };
    const to = { startUs: own.startUs, finishUs: own.startUs + from.finishUs - from.startUs };
    return lengthUs < 1 ? null : fill(facts, series, { kind: 'dissolve', frameCount: 0, into, from, to });
  }
  const frameUs = (rate.denominator * 1e6) / rate.numerator;
  const frameCount = Math.floor(lengthUs / frameUs + 1e-6);
  if (frameCount < LEAST_DISSOLVE_FRAMES) return null;
  const [left, right] = [snapRangeToFrames(series.frames, before), snapRangeToFrames(series.frames, own)];
  const us = Math.round(frameCount * frameUs);
  const from = snapRangeToFrames(series.frames, { startUs: left.finishUs - us, finishUs: left.finishUs });
  const to = snapRangeToFrames(series.frames, { startUs: right.startUs, finishUs: right.startUs + us });
  return fill(facts, series, { kind: 'dissolve', frameCount, into, from, to });
}

function fill(facts: MediaFacts, series: TakeSeries, drawn: Extract<DrawnPart, { kind: 'dissolve' }>): Drawn {
  const { video } = facts;
  const frames =
    video && drawn.frameCount > 0 ? buildConstantFrameTimes(0, drawn.frameCount, video.frameRate) : null;
  const lengthUs = frames?.endUs ?? drawn.from.finishUs - drawn.from.startUs;
  return {
    source: DRAWN_SOURCE,
    drawn,
    facts: describePart(facts, lengthUs),
    series: {
      ...EMPTY_SERIES,
      frames,
      peaks: series.peaks && mixPeaks(series.peaks, drawn, lengthUs),
      complexity: series.complexity && mixComplexity(series.complexity, drawn, lengthUs),
      blocks: series.blocks && mixBlocks(series.blocks, drawn, lengthUs),
    },
  };
}

function describePart(facts: MediaFacts, durationUs: number): MediaFacts {
  const { video } = facts;
  return { ...facts, video: video && { ...video, rateKind: 'constant' }, sound: null, durationUs };
}

/**
 * How loud each of two parts is so far into a dissolve, `share` 0 to 1: at equal power, so that two sounds
 * that know nothing of each other are as loud together as each was.
 */
export function readCrossfade(share: number): { from: number; to: number } {
  const angle = (Math.max(0, Math.min(1, share)) * Math.PI) / 2;
  return { from: Math.cos(angle), to: Math.sin(angle) };
}

type Dissolve = Extract<DrawnPart, { kind: 'dissolve' }>;

/** Values along both parts, weighed by how far the dissolve has come. */
function mixAlong(
  count: number,
  stepUs: number,
  { from, to }: Dissolve,
  lengthUs: number,
  mix: (fromUs: number, toUs: number, gains: { from: number; to: number }) => number,
): number[] {
  return Array.from({ length: count }, (_, index) => {
    const us = (index + 0.5) * stepUs;
    return mix(from.startUs + us, to.startUs + us, readCrossfade(us / lengthUs));
  });
}

function mixPeaks({ peaks, columnsPerSecond }: SoundPeaks, drawn: Dissolve, lengthUs: number): SoundPeaks {
  const stepUs = 1e6 / columnsPerSecond;
  const at = (us: number) => peaks[Math.floor(us / stepUs)] ?? 0;
  const count = Math.ceil(lengthUs / stepUs);
  return {
    columnsPerSecond,
    peaks: mixAlong(count, stepUs, drawn, lengthUs, (from, to, gains) =>
      Math.min(1, gains.from * at(from) + gains.to * at(to)),
    ),
  };
}

/** Two pictures over one another ask for about as much as both together. */
function mixComplexity(
  { bits, columnUs }: TakeComplexity,
  drawn: Dissolve,
  lengthUs: number,
): TakeComplexity {
  const at = (us: number) => bits[Math.floor(us / columnUs)] ?? 0;
  const count = Math.ceil(lengthUs / columnUs);
  return { columnUs, bits: mixAlong(count, columnUs, drawn, lengthUs, (from, to) => at(from) + at(to)) };
}

function mixBlocks(blocks: SoundBlocks, drawn: Dissolve, lengthUs: number): SoundBlocks {
  const { blockUs, startUs } = blocks;
  const count = Math.ceil(lengthUs / blockUs);
  const mix = (values: Float32Array, weigh: (gain: number) => number) => {
    const at = (us: number) => values[Math.floor((us - startUs) / blockUs)] ?? 0;
    return Float32Array.from(
      mixAlong(
        count,
        blockUs,
        drawn,
        lengthUs,
        (from, to, gains) => weigh(gains.from) * at(from) + weigh(gains.to) * at(to),
      ),
    );
  };
  const power = (gain: number) => gain * gain;
  const { clipped } = blocks;
  const clippedAt = (us: number) => clipped[Math.floor((us - startUs) / blockUs)] ?? 0;
  return {
    ...blocks,
    startUs: 0,
    powerLeft: mix(blocks.powerLeft, power),
    powerRight: mix(blocks.powerRight, power),
    powerMix: mix(blocks.powerMix, power),
    peak: mix(blocks.peak, (gain) => gain),
    clipped: Uint16Array.from(
      mixAlong(count, blockUs, drawn, lengthUs, (from, to) => clippedAt(from) + clippedAt(to)),
    ),
  };
}
