import fc from 'fast-check';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { listBreaches } from '../invariant/check-plan.ts';
import { listBrokenPromises, makeRealTakes, sampleCases } from '../invariant/real-makes.ts';
import { arbitraryCase } from '../invariant/situations.ts';

describe('a must that a plan calls met', () => {
  it('is met by what the plan says, and one that it misses is refused', () =>
    fc.assert(
      fc.property(arbitraryCase, (each) => {
        expect(listBreaches(each)).toEqual([]);
      }),
      { numRuns: 3000 },
    ));

  it('is met by what is made, as other programs measure it', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'apodix-invariant-'));
    try {
      let made = 0;
      for (const take of await makeRealTakes(folder))
        for (const each of sampleCases(take, 1, 9)) {
          expect(await listBrokenPromises(take, each, join(folder, `made-${made}`))).toEqual([]);
          made += 1;
        }
      expect(made).toBe(8);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });
});
