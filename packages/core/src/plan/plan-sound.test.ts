import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { buildVideoFacts } from '../test-support/facts.ts';
import { chooseRate, planVideoSound } from './plan-sound.ts';
import { readCeilings } from '../limits/steer.ts';

const ceilings = (...raw: Record<string, unknown>[]) =>
  readCeilings(
    raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each })),
    'video',
  );
const plan = (options: Partial<Parameters<typeof planVideoSound>[2]>, ...raw: Record<string, unknown>[]) =>
  planVideoSound(buildVideoFacts(), ceilings(...raw), {
    durationUs: 60_000_000,
    codec: 'aac',
    gainDb: 0,
    need: 'music',
    ...options,
  });
/** A minute at so many bits a second. */
const sizeOf = (bps: number) => ({ kind: 'file-size', maxBytes: Math.ceil((bps * 60) / 8) });

describe('the sound of a video', () => {
  it('of music has 160 kbit/s from the size on of which that is a third, and 192 from a fifth on', () => {
    expect(plan({}, sizeOf(480_000))?.bitrateBps).toBe(160_000);
    expect(plan({}, sizeOf(955_000))?.bitrateBps).toBe(160_000);
    expect(plan({}, sizeOf(961_000))?.bitrateBps).toBe(192_000);
    expect(plan({})?.bitrateBps).toBe(192_000);
  });

  it('of speech is never given more than 96 kbit/s', () => {
    expect(plan({ need: 'speech' })?.bitrateBps).toBe(96_000);
    expect(plan({ need: 'speech' }, sizeOf(300_000))?.bitrateBps).toBe(48_000);
  });

  it('never takes more than half of what there is, whatever is wished', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 120_000, max: 50_000_000 }),
        fc.option(fc.integer({ min: 32_000, max: 512_000 })),
        fc.constantFrom('music' as const, 'speech' as const),
        (bps, wishedBps, need) => {
          const sound = plan({ need, wishedBps }, sizeOf(bps));
          expect(sound?.bitrateBps).toBeLessThanOrEqual(Math.max(48_000, bps / 2));
        },
      ),
    );
  });

  it('halves the bits of one channel, and does not make two of one', () => {
    const one = planVideoSound(
      buildVideoFacts({}, { sound: { ...buildVideoFacts().sound!, channels: 1 } }),
      ceilings(),
      { durationUs: 60_000_000, codec: 'aac', gainDb: 0, need: 'music' },
    );
    expect(one).toMatchObject({ channels: 1, bitrateBps: 96_000 });
    expect(plan({}, { kind: 'channels', wanted: 1 })).toMatchObject({ channels: 1, bitrateBps: 96_000 });
    const six = planVideoSound(
      buildVideoFacts({}, { sound: { ...buildVideoFacts().sound!, channels: 6 } }),
      ceilings(),
      { durationUs: 60_000_000, codec: 'aac', gainDb: 0, need: 'music' },
    );
    expect(six?.channels).toBe(2);
  });

  it('is left out where there is none or none is wanted', () => {
    expect(plan({}, { kind: 'sound-present', isWanted: false })).toBeNull();
    expect(
      planVideoSound(buildVideoFacts({}, { sound: null }), ceilings(), {
        durationUs: 1_000_000,
        codec: 'aac',
        gainDb: 0,
        need: 'music',
      }),
    ).toBeNull();
  });
});

describe('chooseRate', () => {
  const rates = [48_000, 44_100, 32_000, 24_000, 16_000];
  it('keeps 44.1 kHz and makes 48 kHz of everything else', () => {
    expect(
      [44_100, 48_000, 96_000, 11_025].map((hz) =>
        chooseRate(hz, { minRateHz: null, maxRateHz: null }, rates),
      ),
    ).toEqual([44_100, 48_000, 48_000, 48_000]);
  });
  it('keeps within what limits allow', () => {
    expect(chooseRate(48_000, { minRateHz: null, maxRateHz: 44_100 }, rates)).toBe(44_100);
    expect(chooseRate(44_100, { minRateHz: 48_000, maxRateHz: null }, rates)).toBe(48_000);
    expect(chooseRate(48_000, { minRateHz: null, maxRateHz: 20_000 }, rates)).toBe(16_000);
  });
});
