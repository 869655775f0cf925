import { createPlainRecipe, Limit, planSamples } from '@apodix/core';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { Benchmark, Row } from '../benchmark.ts';
import { sources } from './cases.ts';
import { watchMemory } from './watch-memory.ts';

/** How much is made of each source; those that are named are made at their own length. */
const SECONDS = 60;
const LIMIT_BPS = 2_700_000;
/** As it is built: what starts children from sources takes four times as long. */
const builtEngine = resolve('packages/engine/dist/bundled/index.js');

/**
 * How soon there is a curve to go by after a take was brought in; baseline: all of its samples. Beside it,
 * the most that the programs at work held in memory at once, while bringing in and while sampling.
 */
export const firstCurveBenchmark: Benchmark = {
  name: 'first-curve',
  isShort: true,
  run: async (isLong, tell, only) => {
    const engine = (await import(builtEngine)) as typeof import('@apodix/engine');
    const folder = await mkdtemp(join(tmpdir(), 'apodix-bench-'));
    const rows: Row[] = [];
    try {
      const chosen = only
        ? sources.filter(({ id }) => only.includes(id))
        : sources.slice(0, isLong ? undefined : 1).map((source) => ({ ...source, seconds: SECONDS }));
      for (const { id, name, filter, codec, seconds } of chosen) {
        const path = join(folder, `${id}.mov`);
        const tone = ['-f', 'lavfi', '-i', `sine=440:d=${seconds}`];
        const picture = ['-f', 'lavfi', '-t', String(seconds), '-i', filter];
        await execa('ffmpeg', [
          ...['-v', 'error', '-y', ...picture, ...tone, ...codec, '-c:a', 'aac', '-shortest', path],
        ]);
        const bringing = watchMemory();
        const beganAt = performance.now();
        const { facts, series, files } = await engine.bringIn(path, join(folder, `${id}-in`), {});
        const brought = (performance.now() - beganAt) / 1000;
        const bringingBytes = bringing.stop();
        const working = await engine.openIntermediate(files.intermediate);
        const recipe = createPlainRecipe();
        const maxBytes = Math.round((LIMIT_BPS * seconds) / 8);
        const spec = planSamples(facts, series, recipe, [
          Limit.parse({ id: 'size', kind: 'file-size', maxBytes }),
        ]);
        if (!spec) throw new Error(`Samples were expected of ${name}.`);
        const sampling = watchMemory();
        const startedAt = performance.now();
        const since = () => (performance.now() - startedAt) / 1000;
        let first: number | null = null;
        await engine.sampleTake({
          ...{ sourcePath: path, facts, series, working, recipe, spec, scratchFolder: folder },
          onGrown: () => (first ??= since()),
        });
        const all = since();
        const samplingBytes = sampling.stop();
        const row = {
          recording: name,
          seconds,
          'brought in after s': Number(brought.toFixed(1)),
          'first curve after s': Number((first ?? all).toFixed(1)),
          'all samples after s': Number(all.toFixed(1)),
          ratio: Number(((first ?? all) / all).toFixed(3)),
          'bringing in, MB': Math.round(bringingBytes / 1e6),
          'sampling, MB': Math.round(samplingBytes / 1e6),
        };
        rows.push(row);
        tell(row);
        await rm(path);
        await rm(join(folder, `${id}-in`), { recursive: true });
      }
      return {
        tables: [
          { title: 'From brought in to a curve that sizes can be chosen by, beside all samples', rows },
        ],
      };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  },
};
