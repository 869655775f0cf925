// npm run bench [-- NAME… --long --sources=ID,ID]: prints a table for each benchmark and writes
// bench/results/NAME.json.
import { writeFileSync } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Benchmark, Row } from './benchmark.ts';
import { lightBenchmark } from './artwork/light.bench.ts';
import { artworkSpeedBenchmark } from './artwork/speed.bench.ts';
import { cornersBenchmark } from './capture/corners.bench.ts';
import { autoColorBenchmark } from './color/auto-color.bench.ts';
import { looksBenchmark } from './capture/looks.bench.ts';
import { faultSchedulesBenchmark } from './hand-in/fault-schedules.bench.ts';
import { fuzzBenchmark } from './fuzz/fuzz.bench.ts';
import { invariantBenchmark } from './invariant/invariant.bench.ts';
import { longTestsBenchmark } from './long-tests/long-tests.bench.ts';
import { copyVideoBenchmark } from './make/copy-video.bench.ts';
import { firstCurveBenchmark } from './make/first-curve.bench.ts';
import { makeVideoBenchmark } from './make/make-video.bench.ts';
import { proveBenchmark } from './prove/prove.bench.ts';
import { readLimitsBenchmark } from './read-limits/read-limits.bench.ts';
import { sabotageBenchmark } from './sabotage/sabotage.bench.ts';
import { scrubBenchmark } from './shape/scrub.bench.ts';
import { alignBenchmark } from './sound/align.bench.ts';
import { suggestBenchmark } from './sound/suggest.bench.ts';
import { inspectBenchmark } from './takes/inspect.bench.ts';
import { uploadBenchmark } from './takes/upload.bench.ts';
import { todayBenchmark } from './today/today.bench.ts';

const benchmarks: readonly Benchmark[] = [
  alignBenchmark,
  autoColorBenchmark,
  suggestBenchmark,
  readLimitsBenchmark,
  copyVideoBenchmark,
  makeVideoBenchmark,
  firstCurveBenchmark,
  proveBenchmark,
  sabotageBenchmark,
  invariantBenchmark,
  faultSchedulesBenchmark,
  todayBenchmark,
  fuzzBenchmark,
  inspectBenchmark,
  cornersBenchmark,
  lightBenchmark,
  artworkSpeedBenchmark,
  looksBenchmark,
  scrubBenchmark,
  uploadBenchmark,
  longTestsBenchmark,
];
const isLong = process.argv.includes('--long');
const only = process.argv
  .find((argument) => argument.startsWith('--sources='))
  ?.slice('--sources='.length)
  .split(',');
const names = process.argv.slice(2).filter((argument) => !argument.startsWith('--'));
const unknown = names.filter((name) => !benchmarks.some((each) => each.name === name));
if (unknown.length > 0) {
  console.error(
    `There is no benchmark ${unknown.join(', ')}. There are: ${benchmarks.map((each) => each.name).join(', ')}.`,
  );
  process.exit(2);
}

function writeTable(rows: readonly Row[]): string {
  const columns = [...new Set(rows.flatMap((row) => Object.keys(row)))];
  const cells = [columns, ...rows.map((row) => columns.map((column) => String(row[column] ?? '')))];
  const widths = columns.map((_, index) => Math.max(...cells.map((line) => (line[index] ?? '').length)));
  return cells
    .map((line) =>
      line
        .map((cell, index) => cell.padEnd(widths[index] ?? 0))
        .join('  ')
        .trimEnd(),
    )
    .join('\n');
}

const folder = 'bench/results';
await mkdir(folder, { recursive: true });
for (const benchmark of benchmarks.filter((each) =>
  names.length > 0 ? names.includes(each.name) : isLong || each.isShort,
)) {
  const path = join(folder, `${[benchmark.name, ...(only ?? [])].join('-')}.json`);
  const told: Row[] = [];
  const result = await benchmark.run(
    isLong,
    (row) => {
      told.push(row);
      console.log(
        Object.entries(row)
          .map(([name, value]) => `${name}: ${value}`)
          .join(' · '),
      );
      writeFileSync(path, `${JSON.stringify({ isUnfinished: true, rows: told }, null, 2)}\n`);
    },
    only,
  );
  for (const table of result.tables) console.log(`\n${table.title}\n${writeTable(table.rows)}`);
  await writeFile(path, `${JSON.stringify(result, null, 2)}\n`);
}
