import {
  buildPlan,
  createPlainColor,
  Limit,
  type ColorSettings,
  type Finding,
  type ProofFinding,
  type Recipe,
} from '@apodix/core';
import { inspectMedia, makeFile, proveTake } from '@apodix/engine';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildRecipe } from '../test-support/recipes.ts';
import { makeClip, readFramePoints } from '../test-support/sample-media.ts';

let folder = '';
let path = '';
let inspected: Awaited<ReturnType<typeof inspectMedia>>;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-shape-'));
  path = await makeClip(folder, 'take.mp4', { seconds: 2, size: '640x360', filters: 'noise=alls=6:allf=t' });
  inspected = await inspectMedia(path, { scratchFolder: folder });
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const limits = [Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 900_000 })];
const color = (changes: Partial<ColorSettings>): ColorSettings => ({ ...createPlainColor(), ...changes });
let count = 0;

async function make(recipe: Recipe) {
  const { facts, series, evidence } = inspected;
  const judge = { limits, nameContext: null };
  const { plan } = buildPlan({ facts, recipe, series, takeName: 'take.mp4', ...judge });
  if (!plan) throw new TypeError('a plan was expected');
  const outputPath = join(folder, `made-${(count += 1)}.mp4`);
  return makeFile({ sourcePath: path, facts, series, evidence, plan, judge, outputPath });
}

/** What somebody who has only both files and the recipe finds. */
const prove = async (madePath: string, recipe: Recipe) =>
  (await proveTake({ madePath, sourcePath: path, recipe, limits, scratchFolder: folder })).findings;

const isProof = (finding: Finding): finding is ProofFinding => finding.of === 'proof';
const listShort = (findings: readonly Finding[]) =>
  findings.filter((finding) => isProof(finding) && finding.state === 'short').map((finding) => (finding as ProofFinding).row);
const listOpen = (findings: readonly Finding[]) =>
  findings.filter((finding) => finding.state !== 'met').map((finding) => `${finding.label}: ${finding.sentence}`);

const shapes: readonly [string, Recipe['picture'], { widthPx: number; heightPx: number }][] = [
  ['a part', buildRecipe({ picture: { crop: { x: 0.3, y: 0.1, width: 0.5, height: 0.6 } } }).picture, { widthPx: 320, heightPx: 216 }],
  ['straightened', buildRecipe({ picture: { straightenDegrees: 6 } }).picture, { widthPx: 542, heightPx: 304 }],
  [
    'turned, mirrored, straightened and cut',
    buildRecipe({
      turnDegrees: 90,
      isMirrored: true,
      picture: { straightenDegrees: -3, crop: { x: 0.05, y: 0.3, width: 0.8, height: 0.5 } },
    }).picture,
    { widthPx: 264, heightPx: 294 },
  ],
  [
    'put right in color',
    buildRecipe({
      picture: {
        color: color({ white: { kelvin: 3000, tint: 0.004 }, exposure: 0.6, shadows: 0.2, highlights: 0.5, contrast: 0.1 }),
      },
    }).picture,
    { widthPx: 640, heightPx: 360 },
  ],
];

describe('a shaped picture', () => {
  it.each(shapes)('%s: is made as asked, and proven by the maker and by an outsider', async (_name, picture, size) => {
    const recipe = { ...buildRecipe(), picture };
    const made = await make(recipe);
    // Edges are even, and the shorter one is rounded down.
    expect(Math.abs((made.facts.video?.widthPx ?? 0) - size.widthPx)).toBeLessThanOrEqual(3);
    expect(Math.abs((made.facts.video?.heightPx ?? 0) - size.heightPx)).toBeLessThanOrEqual(2);
    expect(listOpen(made.findings)).toEqual([]);
    expect(listOpen(await prove(made.path, recipe))).toEqual([]);
  });
});

describe('a file that was shaped otherwise', () => {
  const part = { x: 0.2, y: 0.1, width: 0.6, height: 0.6 };
  const warm = color({ white: { kelvin: 3000, tint: 0 }, exposure: 0.5 });
  const wrong: readonly [string, Partial<Recipe['picture']>, Partial<Recipe['picture']>, string[]][] = [
    ['another part', { crop: { ...part, x: 0.23 } }, { crop: part }, ['geometry']],
    ['straightened the other way', { straightenDegrees: -2 }, { straightenDegrees: 2 }, ['geometry']],
    ['not straightened', { crop: part }, { crop: part, straightenDegrees: 1.5 }, ['geometry']],
    ['colors left as they were', {}, { color: warm }, ['picture', 'color']],
    ['colors put half right', { color: { ...warm, white: { kelvin: 4200, tint: 0 } } }, { color: warm }, ['color']],
    ['colors changed that should not be', { color: color({ richness: 0.5 }) }, {}, ['color']],
    ['lighter than asked', { color: { ...warm, exposure: 0.8 } }, { color: warm }, ['color']],
  ];
  it.each(wrong)('is found out: %s', async (_name, own, asked, rows) => {
    const made = await make(buildRecipe({ picture: own }));
    const short = listShort(await prove(made.path, buildRecipe({ picture: asked })));
    for (const row of rows) expect(short).toContain(row);
  });
});
