import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { readPeaks } from './peaks.ts';

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), 'apodix-peaks-'))));
afterAll(async () => rm(folder, { recursive: true, force: true }));
async function peaksOf(samples: readonly number[], extra = Buffer.alloc(0)): Promise<number[]> {
  const path = join(folder, 'sound.pcm');
  await writeFile(path, Buffer.concat([Buffer.from(Int16Array.from(samples).buffer), extra]));
  return (await readPeaks(path)).peaks;
}

it('keeps the highest of each twentieth of a second, of either sign', async () => {
  const second = Array.from({ length: 8000 }, () => 0);
  second[10] = 16_384;
  second[799] = -8192;
  second[7999] = -32_768;
  const peaks = await peaksOf(second);
  expect(peaks).toHaveLength(20);
  expect([peaks[0], peaks[1], peaks[2], peaks[19]]).toEqual([0.5, 0.25, 0, 1]);
});

it('keeps a last column that is not full, and is not upset by half a sample or by nothing', async () => {
  expect(await peaksOf([3277], Buffer.from([1]))).toEqual([0.1]);
  expect(await peaksOf([])).toEqual([]);
});

it('reads across the pieces in which files are read', async () => {
  // Over 64 KiB, so that several pieces come; the loud sample is the very last.
  const long = Array.from({ length: 80_001 }, () => 0);
  long[80_000] = 32_767;
  const peaks = await peaksOf(long);
  expect(peaks).toHaveLength(201);
  expect(peaks.slice(0, 200).every((peak) => peak === 0)).toBe(true);
  expect(peaks[200]).toBe(1);
});
