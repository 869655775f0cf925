import { createHash } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Sequelize } from 'sequelize';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { buildOldDatabase, insertWork, oldInstant } from '../../test-support/old-database.ts';
import { CalendarRow, MadeRow, PersonRow, RecipeRow, TakeRow, TakeUseRow } from '../models.ts';
import { openDatabase } from '../open-database.ts';
import { firstTables } from './001-first-tables.ts';
import { briefs } from './002-briefs.ts';
import { intermediates } from './003-intermediates.ts';
import { fit } from './004-fit.ts';
import { model } from './005-model.ts';
import { handIns } from './006-hand-ins.ts';

let folder = '';
let sequelize: Sequelize;
const digest = (letter: string) => letter.repeat(64);

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-migrate-'));
  const old = await buildOldDatabase(folder, [firstTables, briefs, intermediates, fit, model, handIns]);
  await insertWork(old, ['solo']);
  await old.insert('takes', {
    ...{ id: 't', personId: 'ann', assignmentId: 'solo', name: 'x.mp4', sha256: digest('a'), sizeBytes: 9 },
    ...{ state: 'ready', kind: 'video', isChosen: 1, isShaped: 1, choice: null, createdAt: oldInstant(1) },
    ...{ posterSha256: digest('b'), seriesSha256: digest('c') },
  });
  await old.insert('recipes', { takeId: 't', version: 1, recipe: '{}', createdAt: oldInstant(1) });
  const moments = [{ atUs: 0, ssim: 1, sourceSha256: digest('e'), madeSha256: digest('f') }];
  await old.insert('made_files', {
    ...{ id: 'm', takeId: 't', personId: 'ann', assignmentId: 'solo', fileName: 'x.mp4', sizeBytes: 9 },
    ...{ sha256: digest('d'), facts: '{}', findings: '[]', plan: '{}', inputHash: 'h' },
    ...{ moments: JSON.stringify(moments), createdAt: oldInstant(2) },
  });
  await old.insert('hand_ins', {
    ...{ id: 'h', personId: 'ann', assignmentId: 'solo', attempt: 1, state: 'received', deliveryKey: 'k' },
    ...{ frozen: JSON.stringify({ files: [{ sha256: digest('d') }] }), createdAt: oldInstant(3) },
  });
  await old.insert('calendars', { personId: 'ann', token: 'secret-address' });
  await old.close();
  sequelize = await openDatabase(folder);
});
afterEach(async () => {
  await sequelize.close();
  await rm(folder, { recursive: true, force: true });
});

const listReferences = async () => {
  const [rows] = await sequelize.query('SELECT owner, sha256 FROM blob_refs ORDER BY owner, sha256');
  return (rows as { owner: string; sha256: string }[]).map(({ owner, sha256 }) => `${owner} ${sha256[0]}`);
};

it('a take keeps its recipes and files, and serves the assignment that it was brought in for', async () => {
  expect(await TakeUseRow.findAll({ raw: true })).toMatchObject([
    { takeId: 't', assignmentId: 'solo', personId: 'ann', isChosen: 1 },
  ]);
  expect([await RecipeRow.count(), await MadeRow.count(), await TakeRow.count()]).toEqual([1, 1, 1]);
  expect((await sequelize.query('PRAGMA foreign_key_check'))[0]).toEqual([]);
});

it('notes what speaks of each blob, then and from then on', async () => {
  const first = ['hand-in:h d', 'made:m d', 'made:m e', 'made:m f', 'take:t a', 'take:t b', 'take:t c'];
  expect(await listReferences()).toEqual(first);
  await TakeRow.update({ posterSha256: digest('9') }, { where: { id: 't' } });
  expect(await listReferences()).toEqual(
    first.map((each) => (each === 'take:t b' ? 'take:t 9' : each)).sort(),
  );
  await TakeRow.destroy({ where: { id: 't' } });
  // What was handed in stays; what went with the take by its foreign key is noted no more.
  expect(await listReferences()).toEqual(['hand-in:h d']);
});

it('keeps calendar addresses as they are, and none of them in the clear', async () => {
  const [row] = await CalendarRow.findAll();
  expect(row?.tokenHash).toBe(createHash('sha256').update('secret-address').digest('hex'));
  const [tables] = await sequelize.query(`SELECT name FROM sqlite_master WHERE name LIKE 'calendars%'`);
  expect(tables).toEqual([{ name: 'calendars' }]);
});

it('a person who goes takes all of it along', async () => {
  await expect(PersonRow.destroy({ where: { id: 'ann' } })).rejects.toThrow(/FOREIGN KEY/);
  expect(await TakeUseRow.count()).toBe(1);
});
