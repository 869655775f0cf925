import { join } from 'node:path';
import { Sequelize } from 'sequelize';
import type { Migration } from '../data/migration.ts';

export interface OldDatabase {
  insert(table: string, row: Record<string, unknown>): Promise<unknown>;
  close(): Promise<void>;
}

/** A database in the form that it had after the given migrations; `openDatabase` brings it on from there. */
export async function buildOldDatabase(
  folder: string,
  migrations: readonly Migration[],
): Promise<OldDatabase> {
  const storage = join(folder, 'apodix.sqlite');
  const old = new Sequelize({ dialect: 'sqlite', storage, logging: false });
  await old.query('CREATE TABLE SequelizeMeta (name VARCHAR(255) PRIMARY KEY)');
  for (const { name, statements, convert } of migrations) {
    await old.transaction(async (transaction) => {
      for (const statement of statements) await old.query(statement, { transaction });
      await convert?.(old, transaction, folder);
    });
    await old.query('INSERT INTO SequelizeMeta VALUES (?)', { replacements: [name] });
  }
  return {
    insert: (table, row) => {
      const names = Object.keys(row);
      return old.query(`INSERT INTO ${table} (${names.join()}) VALUES (${names.map(() => '?').join()})`, {
        replacements: Object.values(row),
      });
    },
    close: () => old.close(),
  };
}

export const oldInstant = (minute: number) =>
  `2026-11-20 10:${String(minute).padStart(2, '0')}:00.000 +00:00`;

/** Ann, her course, and assignments of it. */
export async function insertWork(old: OldDatabase, assignmentIds: readonly string[]): Promise<void> {
  await old.insert('people', {
    id: 'ann',
    displayName: 'Ann',
    firstName: 'Ann',
    surname: 'T',
    role: 'student',
  });
  await old.insert('courses', { id: 'music', title: 'Music', subject: 'music' });
  for (const id of assignmentIds)
    await old.insert('assignments', {
      id,
      kind: 'course',
      courseId: 'music',
      title: 'Solo',
      instructions: '',
      isLateAllowed: 1,
      setAt: oldInstant(0),
      limits: '[]',
      slots: '[]',
      materials: '[]',
      rubric: '[]',
      dueByGroup: '[]',
    });
}
