import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MAX_TRIES, suggestNextRate, type RateTry } from './rate-search.ts';
import { budgetVideo, type BudgetInput } from './video-budget.ts';

const input: BudgetInput = {
  size: { widthPx: 1920, heightPx: 1080 },
  frameRate: 30,
  durationUs: 120_000_000,
  pictureBytes: 90_000_000,
  leastLines: 0,
  sourceBps: 20_000_000,
  sourceGain: 1,
  sourcePixels: 1920 * 1080,
};

describe('budgetVideo', () => {
  it('keeps all lines where the bytes carry them', () =>
    expect(budgetVideo(input)?.size.heightPx).toBe(1080));
  it('prefers fewer lines over mush', () =>
    expect(budgetVideo({ ...input, pictureBytes: 9_000_000 })?.size.heightPx).toBeLessThanOrEqual(540));
  it('does not go below the least lines', () =>
    expect(budgetVideo({ ...input, pictureBytes: 3_000_000, leastLines: 720 })?.size.heightPx).toBe(720));
  it('does not spend more than the source can use', () => {
    const budget = budgetVideo({ ...input, pictureBytes: 900_000_000, sourceBps: 3_000_000 });
    expect(budget?.isSourceBound).toBe(true);
    expect(budget?.videoBps).toBe(4_800_000);
  });
  it('gives up where not even the smallest picture fits', () =>
    expect(budgetVideo({ ...input, pictureBytes: 500_000 })).toBeNull());

  it('never plans more bytes than there are, never enlarges, and more bytes never mean fewer lines', () => {
    const bytes = fc.integer({ min: 700_000, max: 400_000_000 });
    fc.assert(
      fc.property(bytes, bytes, (a, b) => {
        const [less, more] = [
          budgetVideo({ ...input, pictureBytes: Math.min(a, b) }),
          budgetVideo({ ...input, pictureBytes: Math.max(a, b) }),
        ];
        if (!less || !more) return;
        expect((less.videoBps * 120) / 8).toBeLessThanOrEqual(Math.min(a, b));
        expect(more.size.heightPx).toBeLessThanOrEqual(1080);
        expect(more.size.heightPx).toBeGreaterThanOrEqual(less.size.heightPx);
      }),
    );
  });
});

describe('suggestNextRate', () => {
  /** An encoder that misses its aim by a factor and a power, as real ones do. */
  const run = (factor: number, power: number, maxBytes: number, usefulBps = 1e9) => {
    const other = 50_000;
    const encode = (videoBps: number) => Math.round(other + factor * ((videoBps * 60) / 8) ** power);
    const tries: RateTry[] = [];
    for (
      let rate: number | null = ((maxBytes - other) * 8) / 60;
      rate !== null;
      rate = suggestNextRate(tries, maxBytes, other, usefulBps)
    )
      tries.push({ videoBps: rate, sizeBytes: encode(rate) });
    return tries;
  };

  it('ends between 97 % and the limit for encoders that miss by up to a fifth', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.8, max: 1.2, noNaN: true }),
        fc.double({ min: 0.99, max: 1.01, noNaN: true }),
        fc.integer({ min: 2_000_000, max: 200_000_000 }),
        (factor, power, maxBytes) => {
          const tries = run(factor, power, maxBytes);
          const best = Math.max(...tries.map((each) => each.sizeBytes).filter((size) => size <= maxBytes));
          expect(tries.length).toBeLessThanOrEqual(MAX_TRIES);
          expect(best / maxBytes).toBeGreaterThanOrEqual(0.97);
        },
      ),
    );
  });

  it('does not ask for more and more where more bits add nothing', () => {
    // A coder at its finest: from 4 Mbit/s on every rate gives the same 30 MB.
    const tries = [{ videoBps: 5_000_000, sizeBytes: 30_000_000 }];
    const next = suggestNextRate(tries, 60_000_000, 50_000, 1e9);
    expect(next).toBeGreaterThan(5_000_000);
    expect(
      suggestNextRate([...tries, { videoBps: next ?? 0, sizeBytes: 30_050_000 }], 60_000_000, 50_000, 1e9),
    ).toBeNull();
  });

  it('goes between the nearest tries on both sides of the limit', () => {
    const next = suggestNextRate(
      [
        { videoBps: 1_000_000, sizeBytes: 9_000_000 },
        { videoBps: 1_200_000, sizeBytes: 10_500_000 },
      ],
      10_000_000,
      0,
      1e9,
    );
    // 9.9 MB of 9 and 10.5 MB: on the straight line between the logarithms that is 1.12 Mbit/s.
    expect(next).toBeGreaterThan(1_110_000);
    expect(next).toBeLessThan(1_130_000);
  });

  it('does not try again where the source needs no more', () =>
    expect(run(0.5, 1, 10_000_000, 1_000_000)).toHaveLength(1));
});
