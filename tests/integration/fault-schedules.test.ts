import fc from 'fast-check';
import { expect, it } from 'vitest';
import { arbitrarySchedule, FaultyPair } from '../fault-schedules/schedules.ts';

const HOURS = 3_600_000;
const LONG_MS = 400_000;

it(
  'whatever happens on the way, it ends in one hand-in with the right bytes, or in none and says so',
  async () => {
    const pair = await FaultyPair.start(-3 * HOURS);
    try {
      for (const schedule of fc.sample(arbitrarySchedule, { seed: 26, numRuns: 12 }))
        expect({ schedule, ...(await pair.run(schedule)) }).toMatchObject({ wrong: [] });
    } finally {
      await pair.stop();
    }
  },
  LONG_MS,
);
