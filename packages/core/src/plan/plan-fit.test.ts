import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildConstantFrameTimes } from '../time/frame-times.ts';
import { Limit } from '../limits/limit.ts';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import type { FitSamples } from '../fit/samples.ts';
import { buildSeries, buildVideoFacts } from '../test-support/facts.ts';
import { buildPlan } from './build-plan.ts';
import type { PlanInput } from './plan-input.ts';
import { buildOffers } from './offers.ts';
import type { VideoPlan } from './plan.ts';
import { planNextSample, planSamples } from './plan-samples.ts';

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
const frames = buildConstantFrameTimes(0, 1500, { numerator: 25, denominator: 1 });
const complexity = {
  columnUs: 1_000_000,
  bits: Array.from({ length: 60 }, (_, second) => 100_000 + 5000 * second),
};
const keyframesUs = frames.timesUs.filter((_, index) => index % 25 === 0);
const series = buildSeries(buildVideoFacts(), { complexity, keyframesUs });
/** Mirrored, so that nothing can be taken over. */
const recipe = buildRecipe({ isMirrored: true });
const samples: FitSamples = {
  key: 'k',
  codec: 'h264',
  referenceLines: 1080,
  frameRate: { numerator: 25, denominator: 1 },
  windows: [
    { startUs: 10_000_000, durationUs: 2_000_000 },
    { startUs: 40_000_000, durationUs: 2_000_000 },
  ],
  secondsPerMegapixel: 0.02,
  points: [1080, 720, 540].flatMap((lines) =>
    [20, 27, 34].map((crf) => {
      const bytes = [1, 1.4].map((scale) => scale * 600_000 * (lines / 1080) ** 1.4 * 2 ** ((27 - crf) / 6));
      const ssim = bytes.map(
        (size) =>
          1 -
          { 1080: 0, 720: 0.02, 540: 0.05 }[lines as 1080] -
          0.04 * (lines / 1080) ** 1.3 * (600_000 / size) ** 0.6,
      );
      return { lines, rateDivisor: 1 as const, crf, bytes, ssim, ownSsim: ssim };
    }),
  ),
};
const input = (changes: Partial<PlanInput> = {}): PlanInput => ({
  facts: buildVideoFacts(),
  recipe,
  limits: [],
  series: { ...buildSeries(changes.facts ?? buildVideoFacts()), complexity, keyframesUs },
  takeName: 'a.mov',
  nameContext: null,
  samples,
  ...changes,
});
const planFor = (maxBytes: number) =>
  buildPlan(input({ limits: limits({ kind: 'file-size', maxBytes }) })).plan as VideoPlan | null;

describe('planning from samples', () => {
  it('never plans over the limit, never enlarges, and more bytes are never less clear nor fewer lines', () => {
    const bytes = fc.integer({ min: 1_500_000, max: 200_000_000 });
    fc.assert(
      fc.property(bytes, bytes, (left, right) => {
        const [less, more] = [planFor(Math.min(left, right)), planFor(Math.max(left, right))];
        if (!less || !more) return;
        expect(less.prediction.bytes).toBeLessThanOrEqual(Math.min(left, right));
        expect(Math.max(less.cut.heightPx, more.cut.heightPx)).toBeLessThanOrEqual(1080);
        expect(more.prediction.bytes).toBeGreaterThanOrEqual(less.prediction.bytes);
        if (less.prediction.ssim !== null && more.prediction.ssim !== null) {
          expect(more.prediction.ssim).toBeGreaterThanOrEqual(less.prediction.ssim);
          expect(more.cut.heightPx).toBeGreaterThanOrEqual(less.cut.heightPx);
        }
      }),
    );
  });

  it('gives music at least 160 kbit/s where the limit allows', () =>
    expect(planFor(40_000_000)?.sound?.bitrateBps).toBeGreaterThanOrEqual(160_000));

  it('keeps to the lines that a person chose, and to the limit all the same', () => {
    const { plan } = buildPlan(
      input({
        choice: { lines: 540, rateDivisor: 1, maxBytes: 900_000_000, soundBps: null },
        limits: limits({ kind: 'file-size', maxBytes: 20_000_000 }),
      }),
    );
    expect(plan).toMatchObject({ cut: { heightPx: 540 }, rate: { maxBytes: 20_000_000 } });
    expect(plan?.prediction.bytes).toBeLessThanOrEqual(20_000_000);
  });
});

describe('buildOffers', () => {
  const { offers } = buildOffers(input({ limits: limits({ kind: 'file-size', maxBytes: 30_000_000 }) }));

  it('offers the best, one that is much smaller, and one that puts sound first', () => {
    expect(offers.map((offer) => offer.id)).toEqual(['best', 'smaller', 'sound-first']);
    const [best, smaller, sound] = offers.map((offer) => offer.plan);
    expect(smaller?.prediction.bytes).toBeLessThan((best?.prediction.bytes ?? 0) * 0.8);
    expect(smaller?.sound?.bitrateBps).toBe(128_000);
    expect(sound?.sound?.bitrateBps).toBe(256_000);
    for (const offer of offers) expect(offer.plan.prediction.bytes).toBeLessThanOrEqual(30_000_000);
  });

  it('shows what a person chose beside them', () => {
    const fit = { lines: 720, rateDivisor: 1 as const, maxBytes: 12_000_000, soundBps: null };
    expect(
      buildOffers(
        input({ choice: fit, limits: limits({ kind: 'file-size', maxBytes: 30_000_000 }) }),
      ).offers.at(-1),
    ).toMatchObject({ id: 'chosen', choice: fit });
  });
});

describe('planSamples', () => {
  it('samples the lines that may be made, in windows of every degree of complexity, on keyframes', () => {
    const spec = planSamples(
      buildVideoFacts(),
      series,
      recipe,
      limits({ kind: 'picture-edge', edge: 'lines', max: 720 }),
    );
    expect(spec?.lines).toEqual([720, 540, 360, 240]);
    expect(spec?.windows).toHaveLength(5);
    for (const window of spec?.windows ?? []) expect(window.startUs % 1_000_000).toBe(0);
    // Complexity rises with time, so each fifth of the take holds one window: the middle one comes first.
    expect(spec?.windows.map((window) => Math.floor(window.startUs / 12_000_000))).toEqual([2, 4, 0, 3, 1]);
  });
  it('tries half the frames only where there are many', () => {
    const fast = buildVideoFacts({ frameRate: { numerator: 60, denominator: 1 }, frameCount: 3600 });
    expect(planSamples(fast, series, recipe, [])?.rateDivisors).toEqual([1, 2]);
    expect(planSamples(buildVideoFacts(), series, recipe, [])?.rateDivisors).toEqual([1]);
  });
});

describe('planNextSample', () => {
  const at = (maxBytes: number, changes: Partial<PlanInput> = {}) =>
    planNextSample(input({ limits: limits({ kind: 'file-size', maxBytes }), ...changes }));
  it('is where the plan stands', () => {
    const plan = planFor(30_000_000);
    expect(at(30_000_000)).toEqual({
      lines: plan?.cut.heightPx,
      rateDivisor: 1,
      crf: Math.round((plan?.rate.model?.crf ?? 0) * 10) / 10,
    });
  });
  it('is none where a sample lies there already: then it tells nothing new', () => {
    const next = at(30_000_000);
    if (!next) throw new TypeError('a sample was expected');
    const base = samples.points.find((point) => point.lines === next.lines && point.crf === 27);
    if (!base) throw new TypeError('a point was expected');
    const scale = 2 ** ((27 - next.crf) / 6);
    const closer = { ...base, crf: next.crf, bytes: base.bytes.map((bytes) => bytes * scale) };
    expect(at(30_000_000, { samples: { ...samples, points: [...samples.points, closer] } })).toBeNull();
  });
  it('is wanted wherever the plan itself, not rounded, lies 0.4 or more from every sample', () => {
    for (let step = 0; step < 400; step += 1) {
      const maxBytes = Math.round(15_000_000 * 1.004 ** step);
      const plan = planFor(maxBytes);
      const crf = plan?.rate.model?.crf;
      if (crf === undefined || crf < 20) continue;
      const apart = Math.min(...[20, 27, 34].map((sampled) => Math.abs(sampled - crf)));
      expect([crf, at(maxBytes) !== null]).toEqual([crf, apart >= 0.4]);
    }
  });
  it('is none without samples, and where nothing is coded', () => {
    expect(at(30_000_000, { samples: null })).toBeNull();
    expect(planNextSample(input({ recipe: createPlainRecipe(), limits: [] }))).toBeNull();
    expect(at(1_000)).toBeNull();
  });
});

describe('taking the coded picture over', () => {
  const plain = createPlainRecipe();
  const method = (changes: Partial<PlanInput>) =>
    (buildPlan(input({ samples: null, recipe: plain, ...changes })).plan as VideoPlan).method;
  it('where nothing but the wrapping has to change, or only the ends', () => {
    expect(method({})).toBe('rewrap');
    expect(method({ recipe: buildRecipe({ keep: { startUs: 2_000_000, finishUs: 30_000_000 } }) })).toBe(
      'cut',
    );
    expect(method({ recipe: buildRecipe({ soundGainDb: 3 }) })).toBe('rewrap');
  });
  it('not where the picture would not be what every player shows, or too many bytes', () => {
    expect(method({ recipe: buildRecipe({ turnDegrees: 90 }) })).toBe('code');
    expect(method({ facts: buildVideoFacts({ codec: 'hevc' }) })).toBe('code');
    expect(
      method({
        facts: buildVideoFacts({ color: { primaries: null, transfer: null, matrix: null, range: null } }),
      }),
    ).toBe('code');
    expect(method({ facts: buildVideoFacts({ rateKind: 'variable' }) })).toBe('code');
    expect(method({ limits: limits({ kind: 'file-size', maxBytes: 100_000_000 }) })).toBe('code');
    expect(method({ limits: limits({ kind: 'picture-edge', edge: 'lines', max: 720 }) })).toBe('code');
    expect(method({ limits: limits({ kind: 'format', wanted: ['webm'] }) })).toBe('code');
  });
});

describe('sound out of a video', () => {
  it('is planned where only sound is wanted', () => {
    expect(
      buildPlan(input({ limits: limits({ kind: 'format', wanted: ['mp3', 'wav'] }) })).plan,
    ).toMatchObject({ kind: 'sound', container: 'mp3', sound: { codec: 'mp3' } });
  });
  it('is refused where there is none', () => {
    expect(
      buildPlan(
        input({
          facts: buildVideoFacts({}, { sound: null }),
          limits: limits({ kind: 'format', wanted: ['mp3'] }),
        }),
      ).refusals[0],
    ).toMatchObject({ reason: 'format-not-made' });
  });
});
