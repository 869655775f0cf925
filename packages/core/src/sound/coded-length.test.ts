import fc from 'fast-check';
import { expect, it } from 'vitest';
import { findMostSamples, measureCodedUs } from './coded-length.ts';

// Measured with ffprobe on files that FFmpeg coded.
it.each([
  ['mp3', 480_000, 10.032],
  ['mp3', 478_848, 10.008],
  ['mp3', 470_000, 9.816],
  ['aac', 480_000, 10],
  ['opus', 480_000, 10.0065],
] as const)('%s of %d samples runs for %d s', (codec, samples, seconds) =>
  expect(measureCodedUs(codec, samples, 48_000) / 1e6).toBeCloseTo(seconds, 4),
);

// Measured likewise; frames are half as long below 32 kHz.
it.each([
  [6382, 22_050, 0.365714],
  [6912, 22_050, 0.365714],
  [6913, 22_050, 0.391837],
  [6912, 24_000, 0.336],
  [6913, 24_000, 0.36],
  [76_032, 44_100, 1.750204],
  [76_033, 44_100, 1.776327],
] as const)('mp3 of %d samples at %d Hz runs for %d s', (samples, rateHz, seconds) =>
  expect(measureCodedUs('mp3', samples, rateHz) / 1e6).toBeCloseTo(seconds, 5),
);

it('never gives more than fits, and wastes no whole frame', () =>
  fc.assert(
    fc.property(
      fc.constantFrom('aac', 'mp3', 'opus', 'flac', 'pcm'),
      fc.integer({ min: 1, max: 3_000_000 }),
      fc.integer({ min: 40_000, max: 60_000_000 }),
      fc.constantFrom(22_050, 44_100, 48_000),
      (codec, wanted, mostUs, rateHz) => {
        const samples = findMostSamples(codec, wanted, rateHz, mostUs);
        expect(samples).toBeLessThanOrEqual(wanted);
        if (samples > 0) expect(measureCodedUs(codec, samples, rateHz)).toBeLessThanOrEqual(mostUs);
        if (samples < wanted) expect(measureCodedUs(codec, samples + 1, rateHz)).toBeGreaterThan(mostUs);
      },
    ),
  ));
