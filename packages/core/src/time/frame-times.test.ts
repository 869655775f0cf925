import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  buildConstantFrameTimes,
  findFrameAt,
  findFramesOfRange,
  findTimeOfFrame,
  snapRangeToFrames,
  type FrameTimes,
} from './frame-times.ts';

const variable: FrameTimes = { timesUs: [0, 33_000, 70_000, 170_000, 200_000], endUs: 240_000 };

describe('frame times', () => {
  it('finds the frame on screen in a variable-rate take', () => {
    expect([0, 32_999, 33_000, 169_999, 170_000, 500_000].map((at) => findFrameAt(variable, at))).toEqual([
      0, 0, 1, 2, 3, 4,
    ]);
  });

  it('computes 29.97 frames a second without drift: frame 30000 starts at 1001 s', () => {
    const frames = buildConstantFrameTimes(0, 30_001, { numerator: 30_000, denominator: 1001 });
    expect(frames.timesUs[30_000]).toBe(1_001_000_000);
  });

  it('counts a frame in the range that its start lies in', () => {
    expect(findFramesOfRange(variable, { startUs: 33_000, finishUs: 170_000 })).toEqual({
      first: 1,
      last: 3,
    });
    expect(findFramesOfRange(variable, { startUs: 33_001, finishUs: 170_001 })).toEqual({
      first: 2,
      last: 4,
    });
  });

  it('snaps to the nearest frame and may finish at the very end', () => {
    expect(snapRangeToFrames(variable, { startUs: 40_000, finishUs: 239_000 })).toEqual({
      startUs: 33_000,
      finishUs: 240_000,
    });
  });

  it('keeps at least one frame whatever is asked', () => {
    expect(snapRangeToFrames(variable, { startUs: 239_999, finishUs: 240_000 })).toEqual({
      startUs: 200_000,
      finishUs: 240_000,
    });
  });

  const arbitraryFrames = fc
    .array(fc.integer({ min: 1, max: 200_000 }), { minLength: 1, maxLength: 60 })
    .map((gaps): FrameTimes => {
      const timesUs: number[] = [];
      let at = 0;
      for (const gap of gaps) {
        timesUs.push(at);
        at += gap;
      }
      return { timesUs, endUs: at };
    });

  it('time of frame and frame at time are inverse', () => {
    fc.assert(
      fc.property(arbitraryFrames, (frames) =>
        frames.timesUs.every(
          (timeUs, index) =>
            findFrameAt(frames, timeUs) === index && findTimeOfFrame(frames, index) === timeUs,
        ),
      ),
    );
  });

  it('snapping gives frame boundaries and changes nothing a second time', () => {
    fc.assert(
      fc.property(arbitraryFrames, fc.nat(), fc.nat(), (frames, a, b) => {
        const range = { startUs: Math.min(a, b), finishUs: Math.max(a, b) + 1 };
        const once = snapRangeToFrames(frames, range);
        const boundaries = new Set([...frames.timesUs, frames.endUs]);
        expect(
          boundaries.has(once.startUs) && boundaries.has(once.finishUs) && once.finishUs > once.startUs,
        ).toBe(true);
        expect(snapRangeToFrames(frames, once)).toEqual(once);
      }),
    );
  });
});
