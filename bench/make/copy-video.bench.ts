import { buildPlan, createPlainRecipe, Limit, type Recipe, type VideoPlan } from '@apodix/core';
import { inspectMedia, makeFile } from '@apodix/engine';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Benchmark } from '../benchmark.ts';
import { buildRecipe } from '../../tests/test-support/recipes.ts';
import { BT709_ARGS } from '../../tests/test-support/bt709-args.ts';

const SECONDS = 12;
const TAGGED = [
  '-c:v',
  'libx264',
  '-profile:v',
  'high',
  '-preset',
  'veryfast',
  '-b:v',
  '12M',
  '-g',
  '30',
  '-pix_fmt',
  'yuv420p',
  ...BT709_ARGS,
];

/**
 * Taking the coded picture over, with proof, against coding the same part again: FFmpeg, two passes of x264
 * `medium`, no proof.
 */
export const copyVideoBenchmark: Benchmark = {
  name: 'copy-video',
  isShort: true,
  run: async () => {
    const folder = await mkdtemp(join(tmpdir(), 'apodix-bench-'));
    try {
      const path = join(folder, 'source.mov');
      await execa('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-f',
        'lavfi',
        '-i',
        'mandelbrot=s=1920x1080:r=30',
        '-f',
        'lavfi',
        '-i',
        'sine=440:r=48000',
        '-t',
        String(SECONDS),
        ...TAGGED,
        '-c:a',
        'aac',
        path,
      ]);
      const { facts, series, evidence } = await inspectMedia(path, { scratchFolder: folder });
      const limits = [
        Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 900_000_000 }),
        Limit.parse({ id: 'format', kind: 'format', wanted: ['mp4'] }),
      ];
      const keep = { startUs: 1_700_000, finishUs: 9_700_000 };
      const startedAt = performance.now();
      for (const pass of ['1', '2'])
        await execa('nice', [
          '-n',
          '10',
          'ffmpeg',
          '-v',
          'error',
          '-y',
          '-ss',
          '1.7',
          '-t',
          '8',
          '-i',
          path,
          '-c:v',
          'libx264',
          '-preset',
          'medium',
          '-b:v',
          '12M',
          '-pass',
          pass,
          '-passlogfile',
          join(folder, 'naive'),
          '-c:a',
          'aac',
          ...(pass === '1' ? ['-f', 'null', '-'] : [join(folder, 'naive.mp4')]),
        ]);
      const naiveS = (performance.now() - startedAt) / 1000;
      const rows: Record<string, string | number>[] = [];
      for (const [name, recipe] of [
        ['cut to the frame, 8 s', buildRecipe({ keep })],
        ['wrapped anew, 12 s', createPlainRecipe()],
      ] as const satisfies readonly (readonly [string, Recipe])[]) {
        const plan = buildPlan({
          facts,
          recipe,
          limits,
          series,
          takeName: 'source.mov',
          nameContext: null,
        }).plan as VideoPlan;
        let provingAt = 0;
        const beganAt = performance.now();
        const made = await makeFile({
          sourcePath: path,
          facts,
          series,
          evidence,
          plan,
          judge: { limits, nameContext: null },
          outputPath: join(folder, 'made.mp4'),
          onProgress: ({ stage }) => (provingAt ||= stage === 'Proving it' ? performance.now() : 0),
        });
        const total = (performance.now() - beganAt) / 1000;
        const making = (provingAt - beganAt) / 1000;
        rows.push({
          case: name,
          method: made.plan.kind === 'video' ? made.plan.method : '',
          'naive, s': Number(naiveS.toFixed(1)),
          'making / naive': Number((making / naiveS).toFixed(3)),
          'with proof / naive': Number((total / naiveS).toFixed(3)),
          frames: made.facts.video?.frameCount ?? 0,
          wanted: plan.cut.frameCount,
        });
      }
      return {
        tables: [
          {
            title:
              'Taking the coded picture over (baseline: coding the same part again, FFmpeg, x264 medium, two passes, no proof)',
            rows,
          },
        ],
      };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  },
};
