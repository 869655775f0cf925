import { describe, expect, it } from 'vitest';
import { createRandom } from '../test-support/piece-scene.ts';
import { SoundReader, type SoundReading } from './sound-reader.ts';

const RATE = 48_000;

/** Feeds `seconds` of sound in blocks of 2048 samples; gives the last reading. */
function read(seconds: number, at: (t: number) => number): SoundReading {
  const reader = new SoundReader(RATE);
  let last: SoundReading | null = null;
  for (let start = 0; start < seconds * RATE; start += 2048)
    last = reader.add(Float32Array.from({ length: 2048 }, (_, index) => at((start + index) / RATE)));
  if (!last) throw new Error('nothing was read');
  return last;
}

describe('SoundReader', () => {
  it('gives a sine of half of full scale as −9 dB, with its peak at −6', () => {
    const reading = read(1, (t) => 0.5 * Math.sin(2 * Math.PI * 997 * t));
    expect(reading.levelDb).toBeCloseTo(-9.03, 1);
    expect(reading.peakDb).toBeCloseTo(-6.02, 1);
    expect(reading.clippedCount).toBe(0);
    expect(reading.silentS).toBe(0);
  });
  it('holds a peak for two seconds and the loudest for ever', () => {
    const burst = (t: number) => (t < 0.1 ? 0.8 : 0.01) * Math.sin(2 * Math.PI * 440 * t);
    expect(read(1.5, burst).heldPeakDb).toBeCloseTo(-1.94, 1);
    expect(read(3, burst).heldPeakDb).toBeCloseTo(-40, 0);
    expect(read(3, burst).loudestDb).toBeCloseTo(-1.94, 1);
  });
  it('sees flat tops', () => {
    const loud = read(1, (t) => Math.max(-1, Math.min(1, 2 * Math.sin(2 * Math.PI * 220 * t))));
    expect(loud.clippedCount).toBeGreaterThan(10);
  });
  it('counts the seconds of silence', () => {
    const fades = read(4, (t) => (t < 1 ? 0.3 : 0) * Math.sin(2 * Math.PI * 300 * t));
    expect(fades.silentS).toBeCloseTo(3, 0);
  });
  it.each([50, 60] as const)('hears the hum of %i Hz mains in room noise, and none without it', (mains) => {
    const random = createRandom(3);
    const noise = () => 0.004 * (random() + random() + random() - 1.5);
    const hum = (t: number) =>
      0.006 * Math.sin(2 * Math.PI * mains * t) + 0.004 * Math.sin(2 * Math.PI * mains * 2 * t);
    expect(read(2, (t) => hum(t) + noise()).humHz).toBe(mains);
    expect(read(2, noise).humHz).toBeNull();
  });
  it('takes low notes for music, not for hum', () => {
    const random = createRandom(4);
    const cello = (t: number) =>
      0.01 * [1, 2, 3, 4].reduce((sum, k) => sum + Math.sin(2 * Math.PI * 65.4 * k * t) / k, 0);
    expect(read(2, (t) => cello(t) + 0.001 * random()).humHz).toBeNull();
  });
});
