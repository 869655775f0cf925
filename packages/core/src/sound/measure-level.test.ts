import { describe, expect, it } from 'vitest';
import { BlockMeter } from './block-meter.ts';
import { measureLoudnessCourse, measureNoiseFloor, measureSoundLevel } from './measure-level.ts';

const RATE = 48_000;
interface Part {
  readonly seconds: number;
  readonly dbfs: number;
  readonly hz?: number;
}

/**
 * Sines on both sides alike, one part after another, as EBU Tech 3341 and 3342 describe their test signals.
 */
function measure(parts: readonly Part[], rate = RATE) {
  const meter = new BlockMeter(rate, 2, 0);
  for (const { seconds, dbfs, hz = 1000 } of parts) {
    const high = 10 ** (dbfs / 20);
    const samples = new Float32Array(seconds * rate * 2);
    for (let at = 0; at < seconds * rate; at += 1) {
      const level = high * Math.sin((2 * Math.PI * hz * at) / rate);
      samples[at * 2] = level;
      samples[at * 2 + 1] = level;
    }
    // In pieces of an odd length: blocks must not depend on how the sound comes in.
    for (let at = 0; at < samples.length; at += 9998) meter.add(samples.subarray(at, at + 9998));
  }
  return meter.finish();
}

it('draws short-term loudness along a sound, and tells how loud its steady noise is', () => {
  const blocks = measure([
    { seconds: 10, dbfs: -23 },
    { seconds: 10, dbfs: -33 },
    { seconds: 3, dbfs: -63 },
  ]);
  const course = measureLoudnessCourse(blocks, { startUs: 0, finishUs: 23_000_000 }, 23);
  expect(course[4]).toBeCloseTo(-23, 1);
  expect(course[14]).toBeCloseTo(-33, 1);
  // Over three seconds about the change: half of the power of either.
  const half = measureLoudnessCourse(blocks, { startUs: 9_500_000, finishUs: 10_500_000 }, 1);
  expect(half[0]).toBeCloseTo(10 * Math.log10((10 ** -2.3 + 10 ** -3.3) / 2), 1);
  expect(measureLoudnessCourse(blocks, { startUs: 40_000_000, finishUs: 50_000_000 }, 2)).toEqual([
    null,
    null,
  ]);
  // A sine at −63 dBFS has −66 dB of power; K-weighting adds 0.7 at 1 kHz.
  expect(measureNoiseFloor(blocks)).toBeCloseTo(-66 + 0.69, 0);
});

describe('loudness by EBU Tech 3341', () => {
  const cases: readonly (readonly [string, readonly Part[], number])[] = [
    ['case 1', [{ seconds: 20, dbfs: -23 }], -23],
    ['case 2', [{ seconds: 20, dbfs: -33 }], -33],
    [
      'case 3',
      [
        { seconds: 10, dbfs: -36 },
        { seconds: 60, dbfs: -23 },
        { seconds: 10, dbfs: -36 },
      ],
      -23,
    ],
    [
      'case 4',
      [
        { seconds: 10, dbfs: -72 },
        { seconds: 10, dbfs: -36 },
        { seconds: 60, dbfs: -23 },
        { seconds: 10, dbfs: -36 },
        { seconds: 10, dbfs: -72 },
      ],
      -23,
    ],
    [
      'case 5',
      [
        { seconds: 20, dbfs: -26 },
        { seconds: 20.1, dbfs: -20 },
        { seconds: 20, dbfs: -26 },
      ],
      -23,
    ],
  ];
  it.each(cases)('%s', (_name, parts, wanted) => {
    expect(Math.abs((measureSoundLevel(measure(parts), null).loudnessLufs ?? 0) - wanted)).toBeLessThan(0.1);
  });

  it.each([44_100, 96_000])('is the same at %d Hz', (rate) => {
    const level = measureSoundLevel(measure([{ seconds: 5, dbfs: -23 }], rate), null);
    expect(Math.abs((level.loudnessLufs ?? 0) + 23)).toBeLessThan(0.1);
  });

  it('of a part is that part, and of silence is nothing', () => {
    const blocks = measure([
      { seconds: 5, dbfs: -30 },
      { seconds: 5, dbfs: -20 },
    ]);
    const of = (startUs: number, finishUs: number) =>
      measureSoundLevel(blocks, [{ startUs, finishUs }]).loudnessLufs ?? 0;
    expect(of(0, 4_900_000)).toBeCloseTo(-30, 1);
    expect(of(5_100_000, 10_000_000)).toBeCloseTo(-20, 1);
    expect(measureSoundLevel(blocks, [{ startUs: 0, finishUs: 300_000 }]).loudnessLufs).toBeNull();
    const silent = measureSoundLevel(measure([{ seconds: 2, dbfs: -200 }]), null);
    expect(silent.loudnessLufs).toBeNull();
  });

  it('mixed to one side is 3 LU less where both are alike and count twice', () => {
    const level = measureSoundLevel(measure([{ seconds: 5, dbfs: -23 }]), null, 'mono');
    expect(level.loudnessLufs).toBeCloseTo(-26, 1);
  });
});

describe('loudness range by EBU Tech 3342', () => {
  it.each([
    ['case 1', -20, -30, 10],
    ['case 2', -20, -15, 5],
    ['case 3', -40, -20, 20],
  ] as const)('%s', (_name, first, second, wanted) => {
    const blocks = measure([
      { seconds: 20, dbfs: first },
      { seconds: 20, dbfs: second },
    ]);
    expect(Math.abs((measureSoundLevel(blocks, null).loudnessRangeLu ?? 0) - wanted)).toBeLessThan(1);
  });
});

describe('true peak', () => {
  it('is found between the samples: a quarter of the rate, 45° off (EBU Tech 3341, case 16)', () => {
    const meter = new BlockMeter(RATE, 1, 0);
    const high = 10 ** (-6 / 20);
    // Faded in and out, so that the start itself has no step.
    const count = RATE;
    meter.add(
      Float32Array.from({ length: count }, (_, at) => {
        const fade = Math.min(1, at / 2400, (count - at) / 2400);
        return high * fade * Math.sin((Math.PI / 2) * at + Math.PI / 4);
      }),
    );
    const { truePeakDbtp } = measureSoundLevel(meter.finish(), null);
    expect(truePeakDbtp).toBeGreaterThan(-6.4);
    expect(truePeakDbtp).toBeLessThan(-5.8);
  });

  it('counts flat tops at full scale, and none where a peak only touches it', () => {
    const sine = (gain: number) =>
      Float32Array.from({ length: RATE }, (_, at) =>
        Math.max(-1, Math.min(1, gain * Math.sin((2 * Math.PI * 100 * at) / RATE))),
      );
    const count = (gain: number) => {
      const meter = new BlockMeter(RATE, 1, 0);
      meter.add(sine(gain));
      return measureSoundLevel(meter.finish(), null).clippedCount;
    };
    expect(count(1.5)).toBe(200);
    expect(count(0.9)).toBe(0);
  });
});
