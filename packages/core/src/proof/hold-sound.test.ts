import { describe, expect, it } from 'vitest';
import { COURSE_RATE_HZ, LEVEL_COLUMN_US, type SoundEvidence } from '../series/evidence.ts';
import { buildTimeline } from '../timeline/timeline.ts';
import { holdSound } from './hold-sound.ts';

const SECONDS = 10;
/** Two sides that swell apart over a tone that rises: like itself at one moment only. */
const left = (s: number) => 0.2 * Math.sin(2 * Math.PI * (200 + 40 * s) * s) * (0.6 + 0.4 * Math.sin(7 * s));
const rightSide = (s: number) =>
  0.2 * Math.sin(2 * Math.PI * (350 + 23 * s) * s) * (0.6 + 0.4 * Math.cos(5 * s));
type Side = (seconds: number) => number;

/** What inspection leaves of a sound, computed from its course alone. */
function leave(sides: readonly [Side, Side], seconds = SECONDS): SoundEvidence {
  const perColumn = (COURSE_RATE_HZ * LEVEL_COLUMN_US) / 1e6;
  const level = (side: Side) =>
    Uint8Array.from({ length: (seconds * 1e6) / LEVEL_COLUMN_US }, (_, column) => {
      let power = 0;
      for (let k = 0; k < perColumn; k += 1) power += side((column * perColumn + k) / COURSE_RATE_HZ) ** 2;
      const db = 10 * Math.log10(power / perColumn + 1e-13);
      return Math.max(0, Math.min(255, Math.round(-2 * db)));
    });
  return {
    startUs: 0,
    sides: 2,
    levelLeft: level(sides[0]),
    levelRight: level(sides[1]),
    course: Int16Array.from({ length: seconds * COURSE_RATE_HZ }, (_, k) => {
      const s = k / COURSE_RATE_HZ;
      return Math.round(((sides[0](s) + sides[1](s)) / 2) * 32_767);
    }),
  };
}
const source = leave([left, rightSide]);
const endUs = SECONDS * 1e6;
const build = (spans: readonly { source: number; startUs: number; finishUs: number }[]) =>
  buildTimeline({
    recipe: { spans: [...spans] },
    sources: [{ frames: null, constantRate: null, endUs }],
    rate: null,
  });
const hold = (sides: readonly [Side, Side], timeline = build([]), gainDb = 0) =>
  holdSound({ sources: [source], made: leave(sides), timeline, wish: { gainDb, channels: 2 } });

describe('holdSound', () => {
  it('finds the same sound the same everywhere, and in step', () => {
    const found = hold([left, rightSide]);
    expect(found).toMatchObject({ columns: 1000, longestOffUs: 0, offShare: 0 });
    expect(found.leftDb).toBeCloseTo(0, 1);
    expect(found.places.length).toBeGreaterThan(3);
    for (const place of found.places) expect(place).toMatchObject({ state: 'same', offsetUs: 0 });
  });

  it.each([0.045, -0.045, 0.01])('tells by how much it comes late: %d s', (late) => {
    const found = hold([(s) => left(s - late), (s) => rightSide(s - late)]);
    for (const { offsetUs } of found.places)
      expect(Math.abs((offsetUs ?? NaN) - late * 1e6)).toBeLessThan(300);
  });

  it('finds a gap, and where it is', () => {
    const gap = (side: Side) => (s: number) => (s > 4 && s < 4.4 ? 0 : side(s));
    const { longestOffUs, offAtUs } = hold([gap(left), gap(rightSide)]);
    expect(Math.abs(longestOffUs - 400_000)).toBeLessThan(60_000);
    expect(Math.abs((offAtUs ?? 0) - 4_000_000)).toBeLessThan(60_000);
  });

  it('finds a side that is lost, and none where both are', () => {
    expect(hold([() => 0, rightSide]).leftDb).toBeLessThan(-40);
    expect(hold([left, rightSide]).rightDb).toBeCloseTo(0, 1);
  });

  it('finds another sound', () => {
    const other: Side = (s) => 0.2 * Math.sin(2 * Math.PI * (900 - 31 * s) * s);
    expect(hold([other, other]).places.some((place) => place.state === 'unlike')).toBe(true);
  });

  it('expects the gain that was asked for', () => {
    const quiet = (side: Side) => (s: number) => side(s) / 2;
    expect(hold([quiet(left), quiet(rightSide)], build([]), -6.02).leftDb).toBeCloseTo(0, 0);
  });

  it('holds both sides of a join, and finds one that is off by 40 ms', () => {
    const spans = [
      { source: 0, startUs: 1_000_000, finishUs: 4_000_000 },
      { source: 0, startUs: 6_000_000, finishUs: 9_000_000 },
    ];
    const join = (side: Side, off: number) => (s: number) => (s < 3 ? side(s + 1) : side(s + 3 + off));
    const exact = hold([join(left, 0), join(rightSide, 0)], build(spans));
    expect(exact.places.every((place) => Math.abs(place.offsetUs ?? NaN) < 300)).toBe(true);
    const early = hold([join(left, 0.04), join(rightSide, 0.04)], build(spans));
    const after = early.places.filter((place) => place.atUs >= 3_000_000 && place.atUs < 6_000_000);
    expect(after.length).toBeGreaterThan(0);
    for (const { offsetUs } of after) expect(Math.abs((offsetUs ?? NaN) + 40_000)).toBeLessThan(300);
  });

  it('is silent where the recording is, which is not the same as unlike', () => {
    const silence = leave([() => 0, () => 0]);
    const found = holdSound({
      sources: [silence],
      made: silence,
      timeline: build([]),
      wish: { gainDb: 0, channels: 2 },
    });
    expect(found.audible).toBe(0);
    expect(found.places.every((place) => place.state === 'silent')).toBe(true);
    const noisy = holdSound({
      sources: [silence],
      made: source,
      timeline: build([]),
      wish: { gainDb: 0, channels: 2 },
    });
    expect(noisy.longestOffUs).toBeGreaterThan(1_000_000);
  });
});
