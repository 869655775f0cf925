import { describe, expect, it } from 'vitest';
import { isBeyondSamples, isSampled, listOpenWindows, shareKeyframe, type FitSamples } from './samples.ts';

const second = (at: number) => ({ startUs: at * 1_000_000, durationUs: 2_000_000 });
const spec = { key: 'a', windows: [second(10), second(30), second(0)] };
const build = (windows: FitSamples['windows'], wanted?: number): FitSamples => ({
  ...{ key: 'a', codec: 'h264', referenceLines: 720, frameRate: { numerator: 25, denominator: 1 } },
  ...{ windows, points: [], secondsPerMegapixel: 0.01 },
  ...(wanted === undefined ? {} : { wanted }),
});

describe('samples that were interrupted', () => {
  it('are not all, and go on with the windows that are missing', () => {
    const known = build([second(10)], 3);
    expect(isSampled(known, spec)).toBe(false);
    expect(listOpenWindows(spec, known)).toEqual([second(30), second(0)]);
    expect(isSampled(build([second(10), second(30), second(0)], 3), spec)).toBe(true);
  });

  it('go on after another cut with what lies apart from what is known, and never with more than there were to be', () => {
    const moved = { key: 'a', windows: [second(11), second(31), second(20), second(40)] };
    expect(listOpenWindows(moved, build([second(10)], 3))).toEqual([second(31), second(20)]);
  });

  it('of before, which say nothing of it, are all there are', () => {
    expect(isSampled(build([second(10)]), spec)).toBe(true);
    expect(listOpenWindows(spec, build([second(10)]))).toEqual([]);
  });

  it('for other limits tell nothing', () => {
    const other = { ...build([second(10)], 1), key: 'b' };
    expect(isSampled(other, spec)).toBe(false);
    expect(isSampled(null, spec)).toBe(false);
    expect(listOpenWindows(spec, other)).toEqual(spec.windows);
  });
});

describe('a way beyond the samples', () => {
  const point = (lines: number, crf: number) => ({
    ...{ lines, crf, rateDivisor: 1 as const },
    ...{ bytes: [1], ssim: [1], ownSsim: [1] },
  });
  const samples = { points: [point(720, 20), point(720, 34), point(360, 40)] };
  const isBeyond = (lines: number, crf: number) => isBeyondSamples({ lines, crf, rateDivisor: 1 }, samples);

  it('is coarser or finer than any of its own lines', () => {
    expect([isBeyond(720, 34.1), isBeyond(720, 19.9)]).toEqual([true, true]);
    expect([isBeyond(720, 34), isBeyond(720, 27), isBeyond(720, 20)]).toEqual([false, false, false]);
  });

  it('is any of lines that were not sampled', () => expect(isBeyond(540, 27)).toBe(true));
});

describe('a window that was coded in part', () => {
  it('counts its keyframe by the share that it has of the whole', () => {
    // Ten frames: 100 for the keyframe, 10 for each other. Forty would take 100 + 390, a quarter of that.
    expect(shareKeyframe([100, ...Array.from({ length: 9 }, () => 10)], 500_000, 2_000_000)).toBe(122.5);
  });

  it('counts for as much where the other frames of the whole take more than those of the part', () => {
    // A quarter of a keyframe and 39 others, each a tenth larger.
    const part = [100, ...Array.from({ length: 9 }, () => 10)];
    expect(shareKeyframe(part, 500_000, 2_000_000, 1.1)).toBeCloseTo((100 + 39 * 11) / 4, 9);
  });

  it('is taken as it is where it is the whole, or a keyframe alone', () => {
    expect(shareKeyframe([100, 10, 10], 2_000_000, 2_000_000)).toBe(120);
    expect(shareKeyframe([100], 500_000, 2_000_000)).toBe(100);
    expect(shareKeyframe([], 500_000, 2_000_000)).toBe(0);
  });
});
