import { describe, expect, it } from 'vitest';
import { composePerformance, recordPerformance, type Microphone } from '../test-support/sound-scene.ts';
import { alignSound, LEAST_ALIGN_CONFIDENCE } from './align-sound.ts';
import { ALIGN_RATE_HZ } from './onset-bands.ts';

const near: Microphone = {
  seed: 5,
  startS: 3,
  lengthS: 24,
  clockPpm: 0,
  echoS: 0.9,
  echoShare: 0.9,
  noiseDb: -12,
  gain: 0.2,
};
const record = (performance: number, changes: Partial<Microphone>) =>
  recordPerformance(composePerformance(performance, 60), { ...near, ...changes }, ALIGN_RATE_HZ);

describe('a separate recording of the sound', () => {
  it.each([
    ['begun later', 8.1234, 1],
    ['begun long before', -6.77, 2],
    ['at about the same time, far louder', 3.0321, 3],
    ['ended before the picture does', 4.5, 4],
  ])('is laid on that of the picture within 5 ms: %s', (_, startS, performance) => {
    const picture = record(performance, {});
    const sound = record(performance, { seed: 77, startS, lengthS: 18, echoS: 0.3, noiseDb: -25, gain: 0.9 });
    const found = alignSound(picture, sound);
    // Both say when they were switched on.
    expect(Math.abs((found?.offsetUs ?? 0) / 1e6 - (startS - near.startS))).toBeLessThan(0.005);
    expect(found?.confidence).toBeGreaterThan(LEAST_ALIGN_CONFIDENCE);
  });

  it('tells by how much its clock is off', () => {
    const found = alignSound(
      record(6, { lengthS: 50 }),
      record(6, { seed: 9, startS: 5, lengthS: 50, clockPpm: 80, noiseDb: -30 }),
    );
    expect(found?.offsetUs).toBeCloseTo(2_000_000, -3.5);
    // A clock that takes more samples a second than it says counts more time than passes.
    expect(Math.abs((found?.driftPpm ?? 0) + 80)).toBeLessThan(5);
  });

  it('of another performance is told not to belong', () => {
    for (const other of [11, 12, 13])
      expect(alignSound(record(10, {}), record(other, { seed: 3 }))?.confidence).toBeLessThan(
        LEAST_ALIGN_CONFIDENCE,
      );
  });

  it('that is silent, or too short to tell, has no place', () => {
    expect(alignSound(record(1, {}), new Float32Array(40_000))).toBeNull();
    expect(alignSound(record(1, {}), record(1, { lengthS: 0.5 }))).toBeNull();
  });
});
