import fc from 'fast-check';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { listBreaches } from '../../tests/invariant/check-plan.ts';
import { listBrokenPromises, makeRealTakes, sampleCases } from '../../tests/invariant/real-makes.ts';
import { arbitraryCase } from '../../tests/invariant/situations.ts';
import type { Benchmark } from '../benchmark.ts';

const PLANNED = 24_000;
const MADE_A_TAKE = 24;

/**
 * Whether a *must* that a plan calls met is met: by plans of random takes, and by files that are really made.
 */
export const invariantBenchmark: Benchmark = {
  name: 'invariant',
  isShort: false,
  run: async (_isLong, tell) => {
    const seed = Date.now() % 1_000_000;
    let breaches = 0;
    for (const each of fc.sample(arbitraryCase, { numRuns: PLANNED, seed })) {
      const found = listBreaches(each);
      breaches += found.length;
      for (const breach of found) tell({ breach });
    }
    const folder = await mkdtemp(join(tmpdir(), 'apodix-invariant-'));
    let [made, broken] = [0, 0];
    try {
      for (const take of await makeRealTakes(folder))
        for (const each of sampleCases(take, MADE_A_TAKE, seed)) {
          const found = await listBrokenPromises(take, each, join(folder, `made-${made}`));
          made += 1;
          broken += found.length;
          for (const breach of found) tell({ breach });
        }
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
    return { tables: [{ title: 'Invariant', rows: [{ seed, planned: PLANNED, breaches, made, broken }] }] };
  },
};
