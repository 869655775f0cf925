import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findSoundOffset } from './find-sound-offset.ts';

const RATE = 8000;
/** A fixed noise with clicks, so that it is like itself at one place only. */
const sound = Int16Array.from({ length: RATE * 6 }, (_, index) =>
  Math.round(
    6000 * Math.sin(index * index * 0.00003) + 3000 * Math.sin(index * 0.7 + Math.sin(index * 0.013) * 9),
  ),
);
const shift = (samples: number) =>
  Int16Array.from({ length: sound.length }, (_, index) => sound[index - samples] ?? 0);

describe('findSoundOffset', () => {
  it('finds by how much a sound comes too late or too early, to the sample', () => {
    fc.assert(
      fc.property(fc.integer({ min: -800, max: 800 }), (samples) => {
        expect(findSoundOffset(sound, shift(samples), RATE, 120_000)?.offsetUs).toBe(
          Math.round((samples * 1e6) / RATE),
        );
      }),
      { numRuns: 12 },
    );
  });
  it('says nothing about silence, about what is too short, and about another sound', () => {
    expect(findSoundOffset(new Int16Array(RATE * 3), new Int16Array(RATE * 3), RATE, 100_000)).toBeNull();
    expect(findSoundOffset(sound.slice(0, 900), sound.slice(0, 900), RATE, 100_000)).toBeNull();
    const other = Int16Array.from({ length: sound.length }, (_, index) =>
      Math.round(9000 * Math.sin(index * 1.1 + Math.cos(index * 0.0071) * 40)),
    );
    expect(findSoundOffset(sound, other, RATE, 100_000)).toBeNull();
  });
});
