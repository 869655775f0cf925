import { describe, expect, it } from 'vitest';
import { createPlainRecipe, type Recipe } from '../recipe/recipe.ts';
import { EMPTY_SERIES, type TakeSeries } from '../series/take-series.ts';
import { buildVideoFacts } from '../test-support/facts.ts';
import { buildConstantFrameTimes } from '../time/frame-times.ts';
import { buildPlan } from './build-plan.ts';
import { applyOthers, findPlace, keepOwnTake, placeSpans } from './join-takes.ts';
import { measureKeptLevel } from './measure-kept-level.ts';
import { buildTakeTimeline } from './plan-timeline.ts';

const RATE = { numerator: 25, denominator: 1 };
/** A mono sound of one power all along. */
const soundOf = (seconds: number, power: number, sides: 1 | 2 = 2): TakeSeries['blocks'] => {
  const column = () => new Float32Array(seconds * 10).fill(power);
  return {
    blockUs: 100_000,
    startUs: 0,
    sides,
    powerLeft: column(),
    powerRight: column(),
    powerMix: column(),
    peak: column().fill(0.1),
    clipped: new Uint16Array(seconds * 10),
  };
};
const takeOf = (seconds: number, power: number, sides: 1 | 2 = 2) => ({
  facts: {
    ...buildVideoFacts({ frameCount: seconds * 25, durationUs: seconds * 1e6 }),
    durationUs: seconds * 1e6,
  },
  series: {
    ...EMPTY_SERIES,
    frames: buildConstantFrameTimes(0, seconds * 25, RATE),
    keyframesUs: [0],
    blocks: soundOf(seconds, power, sides),
  },
});
const own = takeOf(4, 1e-3);
const other = { takeId: 'b', ...takeOf(3, 1e-5) };
const plain = createPlainRecipe();
const recipe: Recipe = {
  ...plain,
  sources: [...plain.sources, { takeId: 'b', role: 'take', offsetUs: 0, driftPpm: 0 }],
  spans: [
    { source: 1, startUs: 1_000_000, finishUs: 3_000_000 },
    { source: 0, startUs: 2_000_000, finishUs: 4_000_000 },
  ],
};
const input = { limits: [], takeName: 'take.mp4', nameContext: null };

describe('takes that are joined', () => {
  const joined = applyOthers(own, recipe, [other]);

  it('lie behind one another on whole seconds, with a frame of nothing between them', () => {
    expect(joined.series.places).toEqual([
      { source: 0, startUs: 0, firstFrame: 0, endUs: 4_000_000 },
      { source: 1, startUs: 5_000_000, firstFrame: 101, endUs: 8_000_000 },
    ]);
    expect(joined.series.frames?.timesUs.slice(98, 104)).toEqual([
      3_920_000, 3_960_000, 4_000_000, 5_000_000, 5_040_000, 5_080_000,
    ]);
    expect(findPlace(joined.series.places ?? [], 6_000_000).source).toBe(1);
  });

  it('give every frame of every part, up to the last one of a take', () => {
    const timeline = buildTakeTimeline(joined.facts, joined.series, recipe, RATE);
    expect(timeline.frameCount).toBe(100);
    const shown = Array.from(timeline.sourceFrames);
    // The other take's frames 25 to 74 begin at 101; then the own ones from 50 to the last, 99.
    expect(shown.slice(0, 50)).toEqual(Array.from({ length: 50 }, (_, index) => 126 + index));
    expect(shown.slice(50)).toEqual(Array.from({ length: 50 }, (_, index) => 50 + index));
    expect(timeline.durationUs).toBe(4_000_000);
  });

  it('are as loud as what is kept of each', () => {
    const loud = measureKeptLevel(joined.facts, joined.series, { spans: recipe.spans.slice(1) });
    const soft = measureKeptLevel(joined.facts, joined.series, { spans: recipe.spans.slice(0, 1) });
    expect((loud?.loudnessLufs ?? 0) - (soft?.loudnessLufs ?? 0)).toBeCloseTo(20, 5);
  });

  it('count one side alone at half its power on each of two', () => {
    const mono = { takeId: 'b', ...takeOf(3, 1e-3, 1) };
    const both = applyOthers(own, recipe, [mono]);
    expect(both.series.blocks?.powerLeft[60]).toBeCloseTo(0.5e-3, 9);
    expect(both.series.blocks?.powerLeft[10]).toBeCloseTo(1e-3, 9);
  });

  it('are refused where one is not there, or goes with a separate recording', () => {
    const refusalOf = (each: Recipe, ids: readonly string[]) => {
      const whole = applyOthers(own, each, ids.includes('b') ? [other] : []);
      return buildPlan({ ...input, ...whole, recipe: each, otherTakeIds: ids }).refusals[0]?.message;
    };
    expect(refusalOf(recipe, ['b'])).toBeUndefined();
    expect(refusalOf(recipe, [])).toContain('not there any more');
    const sound = { takeId: 'c', role: 'sound' as const, offsetUs: 0, driftPpm: 0 };
    expect(refusalOf({ ...recipe, sources: [...recipe.sources, sound] }, ['b', 'c'])).toContain(
      'goes with one take',
    );
  });

  it('leave their own parts where the others are not at hand', () => {
    expect(placeSpans(recipe.spans, null)).toEqual([recipe.spans[1]]);
    expect(keepOwnTake(recipe)).toEqual({ ...plain, spans: [recipe.spans[1]] });
    expect(keepOwnTake(plain)).toBe(plain);
  });

  it('go over into one another for up to half of the shorter one, behind a card that counts as well', () => {
    const card = { title: 'A', lines: [], lengthUs: 2_000_000 };
    const [first, second] = recipe.spans;
    if (!first || !second) throw new TypeError('two parts were expected');
    const drawn = { ...recipe, card, spans: [first, { ...second, dissolveUs: 400_000 }] };
    const whole = applyOthers(own, drawn, [other]);
    const timeline = buildTakeTimeline(whole.facts, whole.series, drawn, RATE);
    // 2 s of the card, 2 s less 0.4 s, 0.4 s of both, 2 s less 0.4 s.
    expect(timeline.durationUs).toBe(5_600_000);
    expect(timeline.spans.map((span) => span.lastOutput - span.firstOutput)).toEqual([50, 40, 10, 40]);
    const shown = Array.from(timeline.sourceFrames);
    expect(shown.slice(50, 90)).toEqual(Array.from({ length: 40 }, (_, index) => 126 + index));
    expect(shown.slice(100)).toEqual(Array.from({ length: 40 }, (_, index) => 60 + index));
    const dissolve = whole.series.places?.find((place) => place.drawn?.kind === 'dissolve');
    expect(dissolve?.drawn).toMatchObject({
      from: { startUs: 7_600_000, finishUs: 8_000_000 },
      to: { startUs: 2_000_000, finishUs: 2_400_000 },
    });
    // The soft one dies away under the loud one: in the middle half of each power.
    expect(whole.series.blocks?.powerLeft[(dissolve?.startUs ?? 0) / 100_000 + 2]).toBeGreaterThan(0.5e-3);
    const long = { ...drawn, spans: [first, { ...second, dissolveUs: 3_000_000 }] };
    const most = applyOthers(own, long, [other]).series.places?.find(
      (place) => place.drawn?.kind === 'dissolve',
    );
    expect((most?.endUs ?? 0) - (most?.startUs ?? 0)).toBe(1_000_000);
    expect(keepOwnTake(drawn).card).toBeNull();
  });

  it('of one take alone stay where they are, and keep a separate recording', () => {
    const sound = { takeId: 'c', role: 'sound' as const, offsetUs: 0, driftPpm: 0 };
    const better = { takeId: 'c', ...takeOf(4, 1e-4) };
    const card = { title: 'A', lines: [], lengthUs: 1_000_000 };
    const alone = { ...plain, sources: [...plain.sources, sound], card };
    const whole = applyOthers(own, alone, [better]);
    expect(buildPlan({ ...input, ...whole, recipe: alone, otherTakeIds: ['c'] }).refusals).toEqual([]);
    expect(whole.series.blocks?.powerLeft[10]).toBeCloseTo(1e-4, 9);
    const still = { ...plain, card };
    const facts = { ...own.facts, kind: 'sound' as const, video: null };
    const refused = buildPlan({ ...input, facts, series: own.series, recipe: still }).refusals[0];
    expect(refused?.message).toBe('An opening card stands before a video.');
  });
});
