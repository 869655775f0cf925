import { readTakeSeries } from '@apodix/core';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { DiskBlobStore } from '../../storage/disk-blob-store.ts';
import { buildOldDatabase, insertWork, oldInstant } from '../../test-support/old-database.ts';
import { MadeRow, RecipeRow, TakeRow } from '../models.ts';
import { openDatabase } from '../open-database.ts';
import { firstTables } from './001-first-tables.ts';
import { briefs } from './002-briefs.ts';
import { intermediates } from './003-intermediates.ts';
import { fit } from './004-fit.ts';

/**
 * Facts, analysis, recipe and plan of one short take, as they were written before the model had its present
 * form.
 */
interface FirstForms {
  readonly facts: Record<string, unknown>;
  readonly analysis: { readonly frameTimesUs: number[]; readonly peaks: { readonly peaks: number[] } };
  readonly recipe: Record<string, unknown>;
  readonly plan: Record<string, unknown>;
}

let folder = '';
let first: FirstForms;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-migrate-'));
  first = JSON.parse(await readFile(new URL('./first-forms.json', import.meta.url), 'utf8')) as FirstForms;
  const old = await buildOldDatabase(folder, [firstTables, briefs, intermediates, fit]);
  const { insert } = old;
  await insertWork(old, ['x']);
  const now = oldInstant(0);
  await insert('takes', {
    id: 't',
    personId: 'ann',
    assignmentId: 'x',
    name: 'x.mp4',
    sha256: 'a'.repeat(64),
    sizeBytes: 28_176,
    state: 'ready',
    kind: 'video',
    isChosen: 1,
    isShaped: 1,
    facts: JSON.stringify(first.facts),
    analysis: JSON.stringify(first.analysis),
    proposal: JSON.stringify({ recipe: { ...first.recipe, keep: null }, reasons: [] }),
    createdAt: now,
  });
  await insert('recipes', {
    takeId: 't',
    version: 1,
    recipe: JSON.stringify({ ...first.recipe, keep: null }),
    createdAt: now,
  });
  await insert('recipes', { takeId: 't', version: 2, recipe: JSON.stringify(first.recipe), createdAt: now });
  const finding = {
    severity: 'must',
    stage: 'proven',
    state: 'met',
    label: 'L',
    figure: '1',
    value: 1,
    unit: null,
    wanted: 'w',
    margin: null,
    method: 'm',
    measuredOn: 'b',
    sentence: 'S.',
    fix: null,
    bullet: null,
  };
  await insert('made_files', {
    id: 'm',
    takeId: 't',
    personId: 'ann',
    assignmentId: 'x',
    fileName: 'x.mp4',
    sha256: 'b'.repeat(64),
    sizeBytes: 9,
    facts: JSON.stringify(first.facts),
    findings: JSON.stringify([
      { limitId: 'size', kind: 'file-size', ...finding },
      { limitId: 'whole', kind: 'whole-piece', ...finding, state: 'unknown' },
      { limitId: 'proof-frames', kind: 'proof', ...finding },
    ]),
    plan: JSON.stringify(first.plan),
    inputHash: 'h',
    createdAt: now,
  });
  await old.close();
});
afterEach(() => rm(folder, { recursive: true, force: true }));

it('a database of the first form opens, and nothing in it is lost', async () => {
  const sequelize = await openDatabase(folder);
  try {
    const take = await TakeRow.findByPk('t');
    expect(take?.facts).toMatchObject(first.facts);
    expect(take?.evidenceSha256).toBeNull();
    const path = new DiskBlobStore(join(folder, 'blobs')).pathOf(take?.seriesSha256 ?? '');
    const series = readTakeSeries(await readFile(path));
    expect(series.frames?.timesUs).toEqual(first.analysis.frameTimesUs);
    series.peaks?.peaks.forEach((peak, at) =>
      expect(peak).toBeCloseTo(first.analysis.peaks.peaks[at] ?? 0, 4),
    );

    const recipes = await RecipeRow.findAll({ order: ['version'] });
    expect(recipes.map(({ recipe }) => [recipe.version, recipe.spans.length])).toEqual([
      [2, 0],
      [2, 1],
    ]);
    expect(recipes[1]?.recipe).toMatchObject({
      spans: [{ source: 0, startUs: 200_000, finishUs: 800_000 }],
      picture: { turnDegrees: 90, isMirrored: false },
      sound: { gainDb: -3 },
    });

    const made = await MadeRow.findByPk('m');
    expect(made?.findings.map(({ of, state }) => [of, state])).toEqual([
      ['limit', 'met'],
      ['limit', 'person'],
      ['proof', 'met'],
    ]);
    expect(made?.plan).toMatchObject({
      kind: 'video',
      cut: { frameCount: first.plan.frameCount },
      rate: { videoBps: first.plan.videoBps },
    });
  } finally {
    await sequelize.close();
  }
});
