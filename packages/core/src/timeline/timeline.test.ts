import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildTimeline, type TimelineSource } from './timeline.ts';

const RATE = { numerator: 25, denominator: 1 };
const steady = (count: number): TimelineSource => ({
  frames: { timesUs: Array.from({ length: count }, (_, k) => k * 40_000), endUs: count * 40_000 },
  constantRate: RATE,
  endUs: count * 40_000,
});

describe('a timeline', () => {
  it('of a whole take shows every frame once', () => {
    const timeline = buildTimeline({ recipe: { spans: [] }, sources: [steady(150)], rate: RATE });
    expect([timeline.frameCount, timeline.durationUs]).toEqual([150, 6_000_000]);
    expect([...timeline.sourceFrames]).toEqual(Array.from({ length: 150 }, (_, k) => k));
  });

  it('of 0.404 to 1.404 s at 25 a second is frames 10 to 34', () => {
    const spans = [{ source: 0, startUs: 404_000, finishUs: 1_404_000 }];
    const timeline = buildTimeline({ recipe: { spans }, sources: [steady(150)], rate: RATE });
    expect([...timeline.sourceFrames]).toEqual(Array.from({ length: 25 }, (_, k) => 10 + k));
  });

  it('joins spans in the order that they are named in, and knows where', () => {
    const spans = [
      { source: 0, startUs: 4_000_000, finishUs: 5_000_000 },
      { source: 0, startUs: 0, finishUs: 400_000 },
    ];
    const timeline = buildTimeline({ recipe: { spans }, sources: [steady(150)], rate: RATE });
    expect(timeline.frameCount).toBe(35);
    expect(timeline.spans[1]).toMatchObject({ outputStartUs: 1_000_000, sourceStartUs: 0, join: 'cut' });
    expect(Array.from(timeline.sourceFrames.slice(24, 26))).toEqual([124, 0]);
    expect(timeline.durationUs).toBe(1_400_000);
  });

  it('at half the rate shows every second frame, and at another what is on screen in its middle', () => {
    const half = buildTimeline({
      recipe: { spans: [] },
      sources: [steady(10)],
      rate: { numerator: 25, denominator: 2 },
    });
    expect([...half.sourceFrames]).toEqual([0, 2, 4, 6, 8]);
    const ten = buildTimeline({
      recipe: { spans: [] },
      sources: [steady(10)],
      rate: { numerator: 10, denominator: 1 },
    });
    expect([...ten.sourceFrames]).toEqual([1, 3, 6, 8]);
  });

  it('of a rate that wanders keeps its last frame', () => {
    const timesUs = [0, 33_000, 70_000, 150_000, 160_000, 230_000];
    const source = { frames: { timesUs, endUs: 270_000 }, constantRate: null, endUs: 270_000 };
    const timeline = buildTimeline({ recipe: { spans: [] }, sources: [source], rate: RATE });
    expect(timeline.sourceFrames.at(-1)).toBe(5);
    expect(timeline.frameCount).toBe(7);
  });

  it('never shows a frame from outside its span, nor goes back inside of it', () =>
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1000, max: 90_000 }), { minLength: 2, maxLength: 80 }),
        fc.double({ min: 0, max: 0.9, noNaN: true }),
        fc.double({ min: 0.05, max: 1, noNaN: true }),
        fc.constantFrom(10, 24, 25, 30, 60),
        (steps, from, share, perSecond) => {
          let time = 0;
          const timesUs = steps.map((step) => (time += step) - (steps[0] ?? 0));
          const endUs = (timesUs.at(-1) ?? 0) + 40_000;
          const startUs = Math.floor(endUs * from);
          const finishUs = Math.min(endUs, startUs + Math.max(1, Math.ceil((endUs - startUs) * share)));
          const source = { frames: { timesUs, endUs }, constantRate: null, endUs };
          const rate = { numerator: perSecond, denominator: 1 };
          const timeline = buildTimeline({
            recipe: { spans: [{ source: 0, startUs, finishUs }] },
            sources: [source],
            rate,
          });
          const [span] = timeline.spans;
          expect(timeline.frameCount).toBeGreaterThan(0);
          expect(timeline.sourceFrames.length).toBe(timeline.frameCount);
          let previous = -1;
          for (const frame of timeline.sourceFrames) {
            expect(frame).toBeGreaterThanOrEqual(span?.firstFrame ?? 0);
            expect(frame).toBeLessThan(span?.lastFrame ?? 0);
            expect(frame).toBeGreaterThanOrEqual(previous);
            previous = frame;
          }
        },
      ),
    ));

  it.each([
    ['a source that is not there', { source: 1, startUs: 0, finishUs: 1 }],
    ['what lies after the end', { source: 0, startUs: 6_000_000, finishUs: 7_000_000 }],
  ])('refuses %s', (_name, span) =>
    expect(() => buildTimeline({ recipe: { spans: [span] }, sources: [steady(150)], rate: RATE })).toThrow(
      RangeError,
    ),
  );
});

it('of a wandering take, held to the length that it has itself, is the same', () => {
  const wandering = fc
    .array(fc.integer({ min: 5_000, max: 90_000 }), { minLength: 3, maxLength: 200 })
    .map((gaps): TimelineSource => {
      const timesUs = [0];
      for (const gap of gaps) timesUs.push((timesUs.at(-1) ?? 0) + gap);
      const endUs = timesUs.pop() ?? 0;
      return { frames: { timesUs, endUs }, constantRate: null, endUs };
    });
  const rates = [
    { numerator: 30, denominator: 1 },
    { numerator: 30_000, denominator: 1001 },
    { numerator: 24_000, denominator: 1001 },
    { numerator: 60, denominator: 1 },
    RATE,
  ];
  fc.assert(
    fc.property(wandering, fc.constantFrom(...rates), fc.boolean(), (source, rate, isSplit) => {
      const halfUs = source.endUs >> 1;
      const spans = [
        { source: 0, startUs: 0, finishUs: halfUs },
        { source: 0, startUs: halfUs, finishUs: source.endUs },
      ];
      const recipe = { spans: isSplit ? spans : [] };
      const free = buildTimeline({ recipe, sources: [source], rate });
      expect(buildTimeline({ recipe, sources: [source], rate, mostUs: free.durationUs })).toEqual(free);
      // A limit is kept all the same, to the microsecond that a file can tell.
      const mostUs = Math.round(free.durationUs * 0.7);
      const held = buildTimeline({ recipe, sources: [source], rate, mostUs });
      if (!isSplit && held.frameCount > 1) expect(held.durationUs).toBeLessThanOrEqual(mostUs);
    }),
  );
});
