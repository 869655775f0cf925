import { execa } from 'execa';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import type { Benchmark } from '../benchmark.ts';

const Report = z.object({
  numPassedTests: z.number(),
  numFailedTests: z.number(),
  testResults: z.array(
    z.object({
      assertionResults: z.array(z.object({ fullName: z.string(), status: z.string() })),
    }),
  ),
});

/**
 * The sets of integration tests that `npm test` runs in part, all of them. Run `node scripts/build.mjs`
 * first.
 */
export const longTestsBenchmark: Benchmark = {
  name: 'long-tests',
  isShort: false,
  run: async () => {
    const folder = await mkdtemp(join(tmpdir(), 'apodix-long-tests-'));
    try {
      const path = join(folder, 'report.json');
      await execa(
        'npx',
        ['vitest', 'run', '--project', 'integration', '--reporter=json', `--outputFile=${path}`],
        { env: { APODIX_LONG_TESTS: '1' }, reject: false },
      );
      const report = Report.parse(JSON.parse(await readFile(path, 'utf8')));
      const failed = report.testResults
        .flatMap(({ assertionResults }) => assertionResults)
        .filter(({ status }) => status === 'failed');
      return {
        tables: [
          {
            title: 'Integration tests, all of them',
            rows: [{ passed: report.numPassedTests, failed: report.numFailedTests }],
          },
          { title: 'Failed', rows: failed.map(({ fullName }) => ({ test: fullName })) },
        ],
      };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  },
};
