import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { suggestRange } from './suggest-range.ts';

const open = { minUs: null, maxUs: null };
/** `spans` of [seconds, level] as peaks at 20 columns a second. */
const peaksOf = (...spans: [number, number][]) => ({
  columnsPerSecond: 20,
  peaks: spans.flatMap(([seconds, level]) => new Array<number>(seconds * 20).fill(level)),
});

describe('suggestRange', () => {
  it('leaves out quiet ends, with half a second before and a second after', () => {
    const { range, startReason, finishReason } = suggestRange(
      40_000_000,
      peaksOf([5, 0.002], [30, 0.4], [5, 0.002]),
      open,
    );
    expect(range).toEqual({ startUs: 4_500_000, finishUs: 36_000_000 });
    expect([startReason, finishReason]).toEqual(['first sound', 'last sound has died away']);
  });

  it('a knock long before the performance does not begin it', () => {
    const peaks = peaksOf([2, 0.001], [8, 0.001], [28, 0.4], [2, 0.4]);
    peaks.peaks[20] = 0.3;
    expect(suggestRange(40_000_000, peaks, open).range.startUs).toBeGreaterThan(9_000_000);
  });

  it.each([
    ['even sound', peaksOf([40, 0.3])],
    ['silence', peaksOf([40, 0])],
    ['no sound at all', null],
    ['short gaps at the ends', peaksOf([1, 0.001], [38, 0.3], [1, 0.001])],
  ])('keeps all of it with %s', (_name, peaks) => {
    expect(suggestRange(40_000_000, peaks, open).range).toEqual({ startUs: 0, finishUs: 40_000_000 });
  });

  it('never cuts a performance that is too long, and says by how much it is', () => {
    const cut = suggestRange(40_000_000, peaksOf([40, 0.3]), { minUs: null, maxUs: 30_000_000 });
    expect([cut.range.finishUs, cut.overUs]).toEqual([40_000_000, 10_000_000]);
    // The breath around it gives way first: it sounds from 10 to 30 s.
    const near = suggestRange(40_000_000, peaksOf([10, 0.001], [20, 0.4], [10, 0.001]), {
      minUs: null,
      maxUs: 20_200_000,
    });
    expect([near.range, near.overUs]).toEqual([{ startUs: 9_800_000, finishUs: 30_000_000 }, 0]);
  });

  it('goes by what was found along the take, with a breath before and after; unsure, it keeps all and says so', () => {
    const performance = {
      subject: 'music' as const,
      startUs: 12_000_000,
      finishUs: 30_000_000,
      startReason: 'first note, tuning left out',
      finishReason: 'last note has died away, before the applause',
      confidence: 0.9,
      weightS: 18,
    };
    // By level alone the tuning would have been the beginning.
    const peaks = peaksOf([4, 0.001], [4, 0.3], [4, 0.001], [18, 0.4], [10, 0.3]);
    const none = { minUs: null, maxUs: null };
    expect(suggestRange(40_000_000, peaks, none, performance)).toMatchObject({
      range: { startUs: 11_500_000, finishUs: 31_000_000 },
      startReason: 'first note, tuning left out',
      finishReason: 'last note has died away, before the applause',
    });
    const unsure = suggestRange(40_000_000, peaks, none, 'unsure');
    expect(unsure.range).toEqual({ startUs: 0, finishUs: 40_000_000 });
    expect(unsure.startReason).toContain('not sure');
  });

  it('keeps more than the performance where the least length asks for it', () => {
    const { range } = suggestRange(40_000_000, peaksOf([10, 0.001], [20, 0.4], [10, 0.001]), {
      minUs: 35_000_000,
      maxUs: null,
    });
    expect(range.finishUs - range.startUs).toBe(35_000_000);
  });

  it('always lies inside the take, and tells what exceeds the longest length', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 400 }),
        fc.integer({ min: 1, max: 60_000_000 }),
        (peaks, maxUs) => {
          const durationUs = Math.max(50_000, peaks.length * 50_000);
          const { range, overUs } = suggestRange(
            durationUs,
            { columnsPerSecond: 20, peaks },
            { minUs: null, maxUs },
          );
          expect(
            range.startUs >= 0 &&
              range.finishUs <= durationUs &&
              range.finishUs > range.startUs &&
              range.finishUs - range.startUs <= maxUs + overUs,
          ).toBe(true);
        },
      ),
    );
  });
});
