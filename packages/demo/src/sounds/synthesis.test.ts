import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { addBar, addRoom, addVoice, createRandom, createTrack, RATE_HZ, writeWav } from './synthesis.ts';

/** Strength of one frequency in a piece of sound (Goertzel). */
function measureTone(track: Float32Array, frequencyHz: number): number {
  const turn = 2 * Math.cos((2 * Math.PI * frequencyHz) / RATE_HZ);
  let [one, two] = [0, 0];
  for (const sample of track) [one, two] = [sample + turn * one - two, one];
  return Math.sqrt(one * one + two * two - turn * one * two) / track.length;
}

it('gives the same sound for the same seed, and numbers between 0 and 1', () => {
  const [left, right, other] = [createRandom(7), createRandom(7), createRandom(8)];
  const numbers = Array.from({ length: 1000 }, () => left());
  expect(numbers).toEqual(Array.from({ length: 1000 }, () => right()));
  expect(numbers).not.toEqual(Array.from({ length: 1000 }, () => other()));
  expect(Math.min(...numbers)).toBeGreaterThanOrEqual(0);
  expect(Math.max(...numbers)).toBeLessThan(1);
  expect(Math.abs(numbers.reduce((sum, each) => sum + each, 0) / 1000 - 0.5)).toBeLessThan(0.05);
});

it('a bar sounds at its own pitch, from the moment that it is struck, and dies away', () => {
  const track = createTrack(2);
  addBar(track, 0.5, 440, 0.5);
  expect(track.subarray(0, RATE_HZ / 2).every((sample) => sample === 0)).toBe(true);
  const rung = track.subarray(RATE_HZ / 2, RATE_HZ);
  expect(measureTone(rung, 440)).toBeGreaterThan(10 * measureTone(rung, 523));
  const loudest = (from: number, to: number) =>
    Math.max(...track.subarray(from * RATE_HZ, to * RATE_HZ).map(Math.abs));
  expect(loudest(1.5, 2)).toBeLessThan(loudest(0.5, 1) / 10);
});

it('adds to what is there, and never beyond the end', () => {
  const track = createTrack(0.1);
  addBar(track, 0.09, 440, 0.5);
  addRoom(track, 0.01, 3);
  addVoice(track, 0, 5, 0.2, 110, 4);
  expect(track).toHaveLength(RATE_HZ / 10);
  expect(track.every((sample) => Number.isFinite(sample))).toBe(true);
});

it('writes WAV by its definition, held to full scale', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'apodix-wav-'));
  try {
    await writeWav(join(folder, 'a.wav'), Float32Array.from([0, 1, -1, 2, 0.5]));
    const bytes = await readFile(join(folder, 'a.wav'));
    expect([
      bytes.toString('latin1', 0, 4),
      bytes.readUInt32LE(4),
      bytes.toString('latin1', 8, 16),
      bytes.readUInt32LE(24),
      bytes.readUInt32LE(40),
    ]).toEqual(['RIFF', bytes.length - 8, 'WAVEfmt ', 48_000, 10]);
    expect([0, 1, 2, 3, 4].map((index) => bytes.readInt16LE(44 + index * 2))).toEqual([
      0, 32_767, -32_767, 32_767, 16_384,
    ]);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
});
