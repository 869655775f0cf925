import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { runFuzz } from '../../tests/fuzz/run-fuzz.ts';
import type { Benchmark } from '../benchmark.ts';

const SHORT = 1000;
const LONG = 6000;
/** After those of the tests. */
const FIRST = 200;

/** Spoiled files of every family through inspection: each is read or refused in plain words, none hangs. */
export const fuzzBenchmark: Benchmark = {
  name: 'fuzz',
  isShort: false,
  run: async (isLong, tell) => {
    const folder = await mkdtemp(join(tmpdir(), 'apodix-fuzz-'));
    try {
      const count = isLong ? LONG : SHORT;
      const result = await runFuzz(folder, count, FIRST, 2, (done) => {
        if (done % 100 === 0) tell({ done, of: count });
      });
      for (const wrong of result.wrong) tell({ wrong });
      const { tried, read, refused, wrong, longestMs } = result;
      const row = {
        tried,
        read,
        ...refused,
        wrong: wrong.length,
        'longest, s': (longestMs / 1000).toFixed(1),
      };
      return { tables: [{ title: 'Spoiled files', rows: [row] }] };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  },
};
