import { buildPlan, Limit, type Recipe } from '@apodix/core';
import { inspectMedia, makeFile } from '@apodix/engine';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildRecipe } from '../../tests/test-support/recipes.ts';
import type { Benchmark, Row } from '../benchmark.ts';
import { sources } from '../make/cases.ts';

const ROUNDS = 3;

interface Case {
  readonly name: string;
  /** Of the recording. */
  readonly seconds: number;
  readonly recipe: Recipe;
  readonly maxBps: number;
}

/**
 * What is proven: a picture that is coded, by the clock of its making, and pictures that are taken over. Of a
 * clip of seconds programs that start are a part of their own.
 */
const cases: readonly Case[] = [
  { name: 'coded', seconds: 12, recipe: buildRecipe({ isMirrored: true }), maxBps: 4_000_000 },
  { name: 'wrapped anew', seconds: 12, recipe: buildRecipe(), maxBps: 200_000_000 },
  {
    name: 'cut to the frame',
    seconds: 60,
    recipe: buildRecipe({ keep: { startUs: 1_700_000, finishUs: 57_700_000 } }),
    maxBps: 200_000_000,
  },
  { name: 'wrapped anew', seconds: 60, recipe: buildRecipe(), maxBps: 200_000_000 },
];

const median = (values: readonly number[]) =>
  [...values].sort((left, right) => left - right)[Math.floor(values.length / 2)] ?? Number.NaN;

async function measureSeconds(work: () => Promise<unknown>): Promise<number> {
  const startedAt = performance.now();
  await work();
  return (performance.now() - startedAt) / 1000;
}

/** What the proof costs: beside making where the picture is coded, beside decoding to null elsewhere. */
export const proveBenchmark: Benchmark = {
  name: 'prove',
  isShort: true,
  run: async (_isLong, tell) => {
    const folder = await mkdtemp(join(tmpdir(), 'apodix-bench-'));
    try {
      const rows: Row[] = [];
      for (const source of sources.filter(({ id }) => id === 'zoom' || id === 'drawn')) {
        const takes = new Map<number, { path: string; take: Awaited<ReturnType<typeof inspectMedia>> }>();
        const input = ['-f', 'lavfi', '-i', source.filter, '-f', 'lavfi', '-i'];
        const tags = ['primaries', 'trc'].flatMap((name) => [`-color_${name}`, 'bt709']);
        for (const seconds of new Set(cases.map((each) => each.seconds))) {
          const path = join(folder, `${source.id}-${seconds}.mp4`);
          await execa('ffmpeg', [
            ...['-v', 'error', '-y', ...input, 'aevalsrc=0.1*sin(2*PI*(300+9*t)*t):s=48000'],
            ...['-t', String(seconds), ...source.codec, ...tags, '-colorspace', 'bt709'],
            ...['-color_range', 'tv', '-profile:v', 'high', '-c:a', 'aac', path],
          ]);
          takes.set(seconds, { path, take: await inspectMedia(path, { scratchFolder: folder }) });
        }
        for (const { name, seconds, recipe, maxBps } of cases) {
          const { path, take } = takes.get(seconds) ?? {};
          if (!path || !take) continue;
          const limits = [
            Limit.parse({ id: 'size', kind: 'file-size', maxBytes: Math.round((maxBps * seconds) / 8) }),
            Limit.parse({ id: 'format', kind: 'format', wanted: ['mp4'] }),
          ];
          const known = { ...take, recipe, limits, takeName: 'take.mp4', nameContext: null };
          const { plan } = buildPlan(known);
          if (!plan) throw new Error(`Nothing can be planned for ${name}.`);
          const [making, proving, decoding]: [number[], number[], number[]] = [[], [], []];
          let method = '';
          for (let round = 0; round < (name === 'coded' ? 1 : ROUNDS); round += 1) {
            const outputPath = join(folder, 'made.mp4');
            const beganAt = performance.now();
            let provingAt = 0;
            const made = await makeFile({
              sourcePath: path,
              ...take,
              plan,
              judge: { limits, nameContext: null },
              outputPath,
              onProgress: ({ stage }) => (provingAt ||= stage === 'Proving it' ? performance.now() : 0),
            });
            making.push((provingAt - beganAt) / 1000);
            proving.push((performance.now() - provingAt) / 1000);
            method = made.plan.kind === 'video' ? made.plan.method : '';
            const decode = ['-n', '10', 'ffmpeg', '-v', 'error', '-i', outputPath, '-f', 'null', '-'];
            decoding.push(await measureSeconds(() => execa('nice', decode)));
          }
          const row = {
            take: source.name,
            'take, s': seconds,
            case: name,
            method,
            'making, s': Number(median(making).toFixed(2)),
            'proof, s': Number(median(proving).toFixed(2)),
            'proof / making': Number((median(proving) / median(making)).toFixed(2)),
            'proof / decoding': Number((median(proving) / median(decoding)).toFixed(2)),
          };
          rows.push(row);
          tell(row);
        }
      }
      const title = 'Cost of the proof (baselines: making; FFmpeg decoding the made file to null)';
      return { tables: [{ title, rows }] };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  },
};
