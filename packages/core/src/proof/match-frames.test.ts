import { describe, expect, it } from 'vitest';
import type { FrameSignatures } from '../series/evidence.ts';
import { buildTimeline } from '../timeline/timeline.ts';
import { matchFrames } from './match-frames.ts';

const RATE = { numerator: 25, denominator: 1 };
const [W, H] = [24, 16];
const COUNT = 60;

/** A soft pattern that wanders: like itself at one moment only. */
function draw(moment: number, random = (): number => 0): Uint8Array {
  return Uint8Array.from({ length: W * H }, (_, point) => {
    const [x, y] = [point % W, Math.floor(point / W)];
    const level =
      128 +
      60 * Math.sin(x * 0.5 + moment * 0.21) +
      45 * Math.cos(y * 0.6 - moment * 0.17 + Math.sin(moment * 0.05) * 2);
    return Math.max(0, Math.min(255, Math.round(level + random() * 4)));
  });
}
/** Noise that is the same on every run (Park and Miller's minimal generator). */
function seed(start: number): () => number {
  let state = start;
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647 - 0.5;
}
const sign = (pictures: readonly Uint8Array[]): FrameSignatures => ({
  widthPx: W,
  heightPx: H,
  frameCount: pictures.length,
  luma: Uint8Array.from(pictures.flatMap((picture) => [...picture])),
});
const moments = Array.from({ length: COUNT }, (_, index) => index);
const source = sign(moments.map((moment) => draw(moment)));
const timelineSource = {
  frames: { timesUs: moments.map((moment) => moment * 40_000), endUs: COUNT * 40_000 },
  constantRate: RATE,
  endUs: COUNT * 40_000,
};
const timeline = buildTimeline({ recipe: { spans: [] }, sources: [timelineSource], rate: RATE });

function hold(
  order: readonly number[],
  change: (picture: Uint8Array, at: number) => Uint8Array = (same) => same,
) {
  const noise = seed(7);
  return matchFrames({
    sources: [source],
    timelineSources: [timelineSource],
    made: sign(order.map((moment, at) => change(draw(moment, noise), at))),
    timeline,
    stance: { turnDegrees: 0, isMirrored: false },
  });
}

describe('matchFrames', () => {
  it('finds every frame in its place, and tells them apart', () =>
    expect(hold(moments)).toMatchObject({
      compared: COUNT,
      toldApart: COUNT,
      misplacedCount: 0,
      unlikeCount: 0,
    }));

  it.each([
    ['one left out', moments.filter((moment) => moment !== 30), COUNT - 31],
    ['one doubled and the next left out', moments.map((moment) => (moment === 31 ? 30 : moment)), 1],
    ['two exchanged', moments.map((moment) => ({ 20: 21, 21: 20 })[moment] ?? moment), 2],
    ['all one later', [0, ...moments.slice(0, -1)], COUNT - 1],
  ])('names what is out of place: %s', (_name, order, least) =>
    expect(hold(order).misplacedCount).toBeGreaterThanOrEqual(least),
  );

  it('says which source frame stands where another should', () => {
    const { misplaced } = hold(moments.map((moment) => (moment === 31 ? 30 : moment)));
    expect(misplaced).toEqual([{ output: 31, expected: 31, found: 30 }]);
  });

  it('finds what shows something else', () => {
    const black = hold(moments, (picture, at) => (at === 12 ? picture.map(() => 16) : picture));
    expect([black.unlikeCount, black.unlike[0]?.output]).toEqual([1, 12]);
    expect(hold(moments, (picture) => picture.toReversed()).unlikeCount).toBeGreaterThan(COUNT * 0.8);
  });

  it('measures brightness and contrast over the whole', () => {
    const flat = hold(moments, (picture) =>
      picture.map((level) => Math.round(128 + (level - 128) * 0.86 + 9)),
    );
    expect(flat.contrast).toBeCloseTo(0.86, 1);
    expect(flat.shiftLevels).toBeCloseTo(9, 0);
  });

  it('of what stands still says that nothing can be told apart, not that it is right', () => {
    const still = sign(moments.map(() => draw(5)));
    const noise = seed(3);
    const found = matchFrames({
      sources: [still],
      timelineSources: [timelineSource],
      made: sign(moments.map(() => draw(5, noise))),
      timeline,
      stance: { turnDegrees: 0, isMirrored: false },
    });
    expect(found).toMatchObject({ compared: COUNT, toldApart: 0, misplacedCount: 0, unlikeCount: 0 });
  });

  it('compares nothing where nothing was decoded', () =>
    expect(hold([])).toMatchObject({ compared: 0, toldApart: 0 }));
});
