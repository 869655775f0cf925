import { describe, expect, it } from 'vitest';
import { readCrossfade } from '../plan/draw-parts.ts';
import type { TakePlace } from '../series/take-series.ts';
import { buildConstantFrameTimes } from '../time/frame-times.ts';
import { drawCardIn, drawDissolves, listMixedFrames, mixDissolvedSound } from './draw-evidence.ts';

/** Eight frames of a take at 10 a second, levels 0 to 70; then four that go from its end to its start. */
const dissolve: TakePlace = {
  source: -1,
  startUs: 2_000_000,
  endUs: 2_400_000,
  firstFrame: 9,
  drawn: {
    kind: 'dissolve',
    frameCount: 4,
    into: 1,
    from: { startUs: 400_000, finishUs: 800_000 },
    to: { startUs: 0, finishUs: 400_000 },
  },
};
const places: TakePlace[] = [{ source: 0, startUs: 0, endUs: 800_000, firstFrame: 0 }, dissolve];
const take = buildConstantFrameTimes(0, 8, { numerator: 10, denominator: 1 });
const frames = {
  timesUs: [...take.timesUs, 800_000, ...[0, 1, 2, 3].map((index) => 2_000_000 + index * 100_000)],
  endUs: 2_400_000,
};

describe('what is drawn', () => {
  it('goes over frame by frame, beginning with the first part alone', () => {
    expect(listMixedFrames(dissolve, frames)).toEqual([
      { from: 4, to: 0, share: 0 },
      { from: 5, to: 1, share: 0.25 },
      { from: 6, to: 2, share: 0.5 },
      { from: 7, to: 3, share: 0.75 },
    ]);
    const luma = new Uint8Array(13);
    for (let index = 0; index < 8; index += 1) luma[index] = index * 10;
    const drawn = drawDissolves({ widthPx: 1, heightPx: 1, luma, frameCount: 13 }, places, frames);
    // 40, ¾·50 + ¼·10, ½·60 + ½·20, ¼·70 + ¾·30
    expect(Array.from(drawn.luma.slice(9))).toEqual([40, 40, 40, 40]);
    expect(Array.from(luma.slice(9))).toEqual([0, 0, 0, 0]);
  });

  it('is as loud together as each part was, where they know nothing of each other', () => {
    const level = new Uint8Array(240).fill(255);
    level.fill(40, 0, 80);
    const sound = {
      startUs: 0,
      sides: 1 as const,
      levelLeft: level,
      levelRight: level,
      course: new Int16Array(19_200).fill(1000, 0, 6400),
    };
    const mixed = mixDissolvedSound(sound, places);
    expect(Array.from(mixed.levelLeft.slice(200, 240)).every((step) => step === 40)).toBe(true);
    // cos + sin of 45° where both are the same.
    expect(mixed.course[16_000 + 1600]).toBeCloseTo(1414, -1);
    for (const share of [0, 0.2, 0.5, 1]) {
      const { from, to } = readCrossfade(share);
      expect(from ** 2 + to ** 2).toBeCloseTo(1, 12);
    }
  });

  it('is the card at all of its frames, in color at one', () => {
    const card: TakePlace = {
      source: -1,
      startUs: 2_000_000,
      endUs: 2_200_000,
      firstFrame: 9,
      drawn: { kind: 'card', frameCount: 2 },
    };
    const evidence = {
      signatures: { widthPx: 1, heightPx: 1, luma: new Uint8Array(11).fill(7), frameCount: 11 },
      colors: { widthPx: 1, heightPx: 1, rgb: Uint8Array.of(1, 2, 3), frameIndices: Int32Array.of(0) },
      sound: null,
    };
    const small = { signature: Uint8Array.of(99), color: Uint8Array.of(90, 91, 92) };
    const drawn = drawCardIn(evidence, [card], small);
    expect(Array.from(drawn.signatures?.luma ?? [])).toEqual([7, 7, 7, 7, 7, 7, 7, 7, 7, 99, 99]);
    expect(Array.from(drawn.colors?.frameIndices ?? [])).toEqual([0, 10]);
    expect(Array.from(drawn.colors?.rgb ?? [])).toEqual([1, 2, 3, 90, 91, 92]);
    expect(drawCardIn(evidence, places, small)).toBe(evidence);
  });
});
