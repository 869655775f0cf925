import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { expect, it } from 'vitest';
import { runFuzz } from '../fuzz/run-fuzz.ts';

const COUNT = 120;

/** As it is built: what starts children from sources takes four times as long. */
const builtEngine = resolve('packages/engine/dist/bundled/index.js');

it(`${COUNT} spoiled files of every family are read, or refused with a code and plain words`, async () => {
  const folder = await mkdtemp(join(tmpdir(), 'apodix-fuzz-'));
  try {
    const { inspectMedia } = (await import(builtEngine)) as typeof import('@apodix/engine');
    const { wrong, tried, read, refused } = await runFuzz(folder, COUNT, 0, 2, undefined, inspectMedia);
    expect(wrong).toEqual([]);
    const refusals = Object.values(refused).reduce((sum, each) => sum + each, 0);
    expect([tried, read + refusals]).toEqual([COUNT, COUNT]);
    expect(refusals).toBeGreaterThan(30);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}, 300_000);
