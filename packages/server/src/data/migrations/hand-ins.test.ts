import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Sequelize } from 'sequelize';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { FeedbackRow, HandInRow, JobRow, ReceiptRow } from '../models.ts';
import { buildOldDatabase, insertWork, oldInstant as at } from '../../test-support/old-database.ts';
import { openDatabase } from '../open-database.ts';
import { firstTables } from './001-first-tables.ts';
import { briefs } from './002-briefs.ts';
import { intermediates } from './003-intermediates.ts';
import { fit } from './004-fit.ts';
import { model } from './005-model.ts';

let folder = '';
let sequelize: Sequelize | null = null;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-migrate-'));
  const old = await buildOldDatabase(folder, [firstTables, briefs, intermediates, fit, model]);
  const { insert } = old;
  await insertWork(old, ['solo', 'duet']);
  const frozen = JSON.stringify({
    parcel: { text: { note: '', participants: '', isOwnWork: true }, items: [] },
    files: [],
  });
  const handIn = (id: string, assignmentId: string, attempt: number, state: string, minute: number) =>
    insert('hand_ins', {
      ...{ id, personId: 'ann', assignmentId, attempt, state, frozen, deliveryKey: `key-${id}` },
      ...{ createdAt: at(minute), receivedAt: state === 'received' ? at(minute) : null },
    });
  await handIn('refused', 'solo', 1, 'failed', 1);
  await handIn('first', 'solo', 1, 'received', 2);
  // Pressed in several tabs at once: all of them were called attempt 2.
  for (const [id, minute] of [
    ['third', 4],
    ['second', 3],
  ] as const)
    await handIn(id, 'solo', 2, 'received', minute);
  await handIn('older', 'duet', 1, 'sending', 5);
  await handIn('newer', 'duet', 1, 'sending', 6);
  await insert('feedback', { handInId: 'first', text: 'Good', points: 3, createdAt: at(7) });
  const receipt = { personId: 'ann', assignmentId: 'solo', receipt: '{}' };
  await insert('receipts', { id: 'r-second', handInId: 'second', ...receipt });
  const job = { kind: 'make', personId: 'ann', state: 'waiting', stage: '', share: 0, attempts: 0 };
  for (const id of ['job-1', 'job-2'])
    await insert('jobs', {
      id,
      ...job,
      isCancelRequested: 0,
      input: '{}',
      inputHash: 'same',
      createdAt: at(1),
    });
  await old.close();
});
afterEach(async () => {
  await sequelize?.close();
  await rm(folder, { recursive: true, force: true });
});

it('keeps every hand-in with what belongs to it, and counts what was received in its order', async () => {
  sequelize = await openDatabase(folder);
  const rows = await HandInRow.findAll({ order: [['createdAt', 'ASC']] });
  expect(rows.map(({ id, attempt, state }) => [id, attempt, state])).toEqual([
    ['refused', 1, 'not-handed-in'],
    ['first', 1, 'returned'],
    ['second', 2, 'received'],
    ['third', 3, 'received'],
    ['older', 1, 'not-handed-in'],
    ['newer', 1, 'on-its-way'],
  ]);
  // Nobody knows of them whether the course site was asked: it may have been.
  expect(rows.every((row) => row.askedAt !== null)).toBe(true);
  expect(await FeedbackRow.count()).toBe(1);
  expect(await ReceiptRow.count({ where: { handInId: 'second' } })).toBe(1);
  expect((await JobRow.findAll({ order: [['id', 'ASC']] })).map(({ state }) => state)).toEqual([
    'waiting',
    'cancelled',
  ]);
  expect((await sequelize.query('PRAGMA foreign_key_check'))[0]).toEqual([]);
});

it('takes one hand-in on its way, and an attempt once, from then on', async () => {
  sequelize = await openDatabase(folder);
  const newer = await HandInRow.findByPk('newer');
  const copy = (id: string, changes: object) =>
    HandInRow.create({
      ...newer?.get({ plain: true }),
      id,
      deliveryKey: id,
      frozen: newer?.frozen,
      ...changes,
    } as never);
  await expect(copy('x', {})).rejects.toThrow(/Validation error|UNIQUE/);
  await expect(copy('y', { assignmentId: 'solo', attempt: 3, state: 'received' })).rejects.toThrow(
    /Validation error|UNIQUE/,
  );
  await expect(copy('z', { assignmentId: 'solo', attempt: 4, state: 'received' })).resolves.toBeDefined();
  await expect(HandInRow.update({ frozen: {} as never }, { where: { id: 'first' } })).rejects.toThrow();
  await expect(sequelize.query(`DELETE FROM hand_ins WHERE id = 'refused'`)).rejects.toMatchObject({
    parent: { message: expect.stringContaining('hand-ins are kept') as string },
  });
});
