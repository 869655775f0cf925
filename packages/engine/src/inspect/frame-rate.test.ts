import { describe, expect, it } from 'vitest';
import type { FrameTimes } from '@apodix/core';
import { measureFrameRate, parseRational } from './frame-rate.ts';

const at = (count: number, timeOf: (index: number) => number, heldUs = 0): FrameTimes => ({
  timesUs: Array.from({ length: count }, (_, index) => Math.round(timeOf(index))),
  endUs: Math.round(timeOf(count)) + heldUs,
});

describe('measureFrameRate', () => {
  it('knows the rates of the trade from their time stamps', () => {
    for (const [numerator, denominator] of [
      [24_000, 1001],
      [25, 1],
      [30_000, 1001],
      [30, 1],
      [50, 1],
      [60_000, 1001],
      [60, 1],
      [120, 1],
    ] as const) {
      expect(
        measureFrameRate(
          at(900, (index) => (index * 1e6 * denominator) / numerator),
          null,
        ),
      ).toEqual({ rate: { numerator, denominator }, kind: 'constant' });
    }
  });
  it('is not misled by time stamps in whole milliseconds', () => {
    expect(
      measureFrameRate(
        at(900, (index) => Math.round((index * 1001) / 30) * 1000),
        null,
      ),
    ).toEqual({ rate: { numerator: 30_000, denominator: 1001 }, kind: 'constant' });
  });
  it('is not misled by what the header says', () => {
    expect(
      measureFrameRate(
        at(300, (index) => index * 40_000),
        { numerator: 90_000, denominator: 1 },
      ).rate,
    ).toEqual({ numerator: 25, denominator: 1 });
  });
  it('keeps a rate that nobody uses in thousandths', () => {
    expect(
      measureFrameRate(
        at(700, (index) => (index * 1e6) / 17),
        null,
      ).rate,
    ).toEqual({ numerator: 17_000, denominator: 1000 });
  });
  it('tells a variable rate: dropped frames, a slow half, one long pause', () => {
    const usual = { rate: { numerator: 30, denominator: 1 }, kind: 'variable' };
    expect(
      measureFrameRate(
        at(600, (index) => (index + Math.floor(index / 50)) * (1e6 / 30)),
        null,
      ),
    ).toEqual(usual);
    expect(
      measureFrameRate(
        at(600, (index) => (index < 400 ? index : 400 + (index - 400) * 2) * (1e6 / 30)),
        null,
      ),
    ).toEqual(usual);
    expect(
      measureFrameRate(
        at(600, (index) => index * (1e6 / 30) + (index > 300 ? 2e6 : 0)),
        null,
      ),
    ).toEqual(usual);
  });
  it('calls a rate variable where the last frame is held', () => {
    const steady = (index: number) => index * 40_000;
    expect(measureFrameRate(at(50, steady, 15_000), null).kind).toBe('constant');
    expect(measureFrameRate(at(50, steady, 120_000), null)).toEqual({
      rate: { numerator: 25, denominator: 1 },
      kind: 'variable',
    });
  });
  it('takes the word of the header for a single frame', () => {
    expect(measureFrameRate({ timesUs: [0], endUs: 20_000 }, { numerator: 50, denominator: 1 })).toEqual({
      rate: { numerator: 50, denominator: 1 },
      kind: 'constant',
    });
    expect(measureFrameRate({ timesUs: [], endUs: 0 }, null).kind).toBe('constant');
  });
});

it('reads rationals, and none where there is none', () => {
  expect(['30000/1001', '16:9', '0/0', '25', undefined, '-1/2'].map((text) => parseRational(text))).toEqual([
    { numerator: 30_000, denominator: 1001 },
    { numerator: 16, denominator: 9 },
    null,
    null,
    null,
    null,
  ]);
});
