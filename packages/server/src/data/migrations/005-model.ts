import { openRecipe, writeTakeSeries, type TakeSeries } from '@apodix/core';
import { randomUUID } from 'node:crypto';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { DiskBlobStore } from '../../storage/disk-blob-store.ts';
import type { Migration } from '../migration.ts';
import { convertFirstFinding, convertFirstPlan } from './convert-first-forms.ts';

interface FirstAnalysis {
  readonly frameTimesUs: number[];
  readonly frameEndUs: number;
  readonly peaks: TakeSeries['peaks'];
  readonly filmstrip: unknown;
  readonly complexity?: TakeSeries['complexity'];
  readonly keyframesUs?: number[];
}

/**
 * Series leave the rows for blobs, recipes get several sources and spans, what was chosen in Fit stands
 * beside them, plans have their parts, and findings tell of what they are. Takes of before have no evidence
 * yet; it is measured when a file is made from them.
 */
export const model: Migration = {
  name: '005-model',
  statements: [
    `ALTER TABLE takes ADD COLUMN seriesSha256 TEXT`,
    `ALTER TABLE takes ADD COLUMN evidenceSha256 TEXT`,
    `ALTER TABLE takes ADD COLUMN filmstrip TEXT`,
    `ALTER TABLE takes ADD COLUMN choice TEXT`,
  ],
  convert: async (sequelize, transaction, dataFolder) => {
    await moveSeries(sequelize, transaction, dataFolder);
    await convertRecipes(sequelize, transaction);
    await convertMade(sequelize, transaction);
    await sequelize.query('ALTER TABLE takes DROP COLUMN analysis', { transaction });
  },
};

type Row = Record<string, string | null>;
const select = (sequelize: Sequelize, transaction: Transaction, sql: string) =>
  sequelize.query<Row>(sql, { type: QueryTypes.SELECT, transaction });
const update = (sequelize: Sequelize, transaction: Transaction, sql: string, replacements: Row) =>
  sequelize.query(sql, { transaction, replacements });

async function moveSeries(sequelize: Sequelize, transaction: Transaction, dataFolder: string): Promise<void> {
  const blobs = new DiskBlobStore(join(dataFolder, 'blobs'));
  await mkdir(join(dataFolder, 'blobs'), { recursive: true });
  const takes = await select(
    sequelize,
    transaction,
    'SELECT id, facts, analysis FROM takes WHERE analysis IS NOT NULL',
  );
  for (const { id, facts, analysis } of takes) {
    const raw = JSON.parse(analysis ?? '{}') as FirstAnalysis;
    const series = writeTakeSeries({
      frames: raw.frameTimesUs.length > 0 ? { timesUs: raw.frameTimesUs, endUs: raw.frameEndUs } : null,
      keyframesUs: raw.keyframesUs ?? [],
      peaks: raw.peaks,
      complexity: raw.complexity ?? null,
      blocks: null,
      sharpness: null,
      movement: null,
      suggestions: null,
    });
    const path = join(dataFolder, 'blobs', `.series-${randomUUID()}`);
    await writeFile(path, series);
    const { sha256 } = await blobs.adopt(path);
    const { video, ...rest } = JSON.parse(facts ?? '{}') as { video?: Record<string, unknown> | null };
    if (video) delete video.frameTimesUs;
    await update(
      sequelize,
      transaction,
      'UPDATE takes SET seriesSha256 = :sha256, filmstrip = :filmstrip, facts = :facts WHERE id = :id',
      {
        id: id ?? '',
        sha256,
        filmstrip: raw.filmstrip ? JSON.stringify(raw.filmstrip) : null,
        facts: JSON.stringify({ ...rest, video: video ?? null }),
      },
    );
  }
}

async function convertRecipes(sequelize: Sequelize, transaction: Transaction): Promise<void> {
  const rows = await select(
    sequelize,
    transaction,
    'SELECT takeId, version, recipe FROM recipes ORDER BY takeId, version',
  );
  for (const { takeId, version, recipe: raw } of rows) {
    const { recipe, fit } = openRecipe(JSON.parse(raw ?? 'null'));
    const place = { takeId: takeId ?? '', version: version ?? '' };
    await update(
      sequelize,
      transaction,
      'UPDATE recipes SET recipe = :recipe WHERE takeId = :takeId AND version = :version',
      { ...place, recipe: JSON.stringify(recipe) },
    );
    // The newest version comes last: what it says of Fit is what counts.
    await update(sequelize, transaction, 'UPDATE takes SET choice = :choice WHERE id = :takeId', {
      takeId: takeId ?? '',
      choice: fit ? JSON.stringify(fit) : null,
    });
  }
  const takes = await select(
    sequelize,
    transaction,
    'SELECT id, proposal FROM takes WHERE proposal IS NOT NULL',
  );
  for (const { id, proposal: raw } of takes) {
    const proposal = JSON.parse(raw ?? '{}') as { recipe: unknown };
    const next = { ...proposal, recipe: openRecipe(proposal.recipe).recipe };
    await update(sequelize, transaction, 'UPDATE takes SET proposal = :proposal WHERE id = :id', {
      id: id ?? '',
      proposal: JSON.stringify(next),
    });
  }
}

async function convertMade(sequelize: Sequelize, transaction: Transaction): Promise<void> {
  const rows = await select(sequelize, transaction, 'SELECT id, plan, findings, facts FROM made_files');
  for (const { id, plan, findings, facts } of rows) {
    const { video, ...rest } = JSON.parse(facts ?? '{}') as { video?: Record<string, unknown> | null };
    if (video) delete video.frameTimesUs;
    await update(
      sequelize,
      transaction,
      'UPDATE made_files SET plan = :plan, findings = :findings, facts = :facts WHERE id = :id',
      {
        id: id ?? '',
        plan: JSON.stringify(convertFirstPlan(JSON.parse(plan ?? '{}'))),
        findings: JSON.stringify((JSON.parse(findings ?? '[]') as unknown[]).map(convertFirstFinding)),
        facts: JSON.stringify({ ...rest, video: video ?? null }),
      },
    );
  }
  // Jobs that wait for what was planned in the old form are planned anew when they are asked for again.
  await sequelize.query(
    `DELETE FROM jobs WHERE kind IN ('make', 'sample') AND state IN ('waiting', 'running')`,
    {
      transaction,
    },
  );
}
