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

const find = (source: Int16Array, made: Int16Array, maxUs: number, count = source.length) =>
  findSoundOffset({ source, sourceFrom: 0, made, madeFrom: 0, count, rateHz: RATE, maxUs });

describe('findSoundOffset', () => {
  it('finds by how much a sound comes too late or too early, to the sample', () => {
    fc.assert(
      fc.property(fc.integer({ min: -800, max: 800 }), (samples) => {
        expect(find(sound, shift(samples), 120_000)).toMatchObject({
          state: 'same',
          offsetUs: Math.round((samples * 1e6) / RATE),
          isAmbiguous: false,
        });
      }),
      { numRuns: 12 },
    );
  });

  it('tells silence, and what is too short, from another sound', () => {
    const silence = new Int16Array(RATE * 3);
    expect(find(silence, silence, 100_000).state).toBe('silent');
    expect(find(sound, sound, 100_000, 700).state).toBe('silent');
    const other = Int16Array.from({ length: sound.length }, (_, index) =>
      Math.round(9000 * Math.sin(index * 1.1 + Math.cos(index * 0.0071) * 40)),
    );
    expect(find(sound, other, 100_000).state).toBe('unlike');
    expect(find(sound, new Int16Array(sound.length), 100_000).state).toBe('unlike');
  });

  it('takes the nearest place of a steady tone, and says that it fits at every period', () => {
    const tone = Int16Array.from({ length: RATE * 4 }, (_, index) =>
      Math.round(8000 * Math.sin((2 * Math.PI * 440 * index) / RATE)),
    );
    expect(find(tone, tone, 150_000)).toMatchObject({ state: 'same', offsetUs: 0, isAmbiguous: true });
    const late = Int16Array.from({ length: tone.length }, (_, index) => tone[index - 2] ?? 0);
    expect(find(tone, late, 150_000)).toMatchObject({ state: 'same', offsetUs: 250, isAmbiguous: true });
  });
});
