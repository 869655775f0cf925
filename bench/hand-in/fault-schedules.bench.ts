import fc from 'fast-check';
import { arbitrarySchedule, FaultyPair } from '../../tests/fault-schedules/schedules.ts';
import type { Benchmark } from '../benchmark.ts';

const SCHEDULES = 200;
const HOURS = 3_600_000;

/** Whether every hand-in ends in one delivery or in a clear "not handed in", whatever happens on the way. */
export const faultSchedulesBenchmark: Benchmark = {
  name: 'fault-schedules',
  isShort: false,
  run: async (_isLong, tell) => {
    const seed = Date.now() % 1_000_000;
    const rows = [];
    const schedules = fc.sample(arbitrarySchedule, { seed, numRuns: SCHEDULES });
    for (const [half, skewHours] of [0, 5].entries()) {
      const pair = await FaultyPair.start(skewHours * HOURS);
      const counts = { received: 0, 'not-handed-in': 0 };
      let wrong = 0;
      try {
        for (const schedule of schedules.filter((_, index) => index % 2 === half)) {
          const result = await pair.run(schedule);
          counts[result.end] += 1;
          if (result.wrong.length === 0) continue;
          wrong += 1;
          tell({ wrong: result.wrong.join(', '), schedule: JSON.stringify(schedule) });
        }
      } finally {
        await pair.stop();
      }
      rows.push({ seed, 'clock of the site, h': skewHours, ...counts, wrong });
    }
    return { tables: [{ title: 'Fault schedules', rows }] };
  },
};
