import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { Sequelize } from 'sequelize';
import sqlite3 from 'sqlite3';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { importPeople } from '../accounts/import-people.ts';
import { AssignmentRow, CourseRow, HandInRow, ParcelRow, PersonRow, TakeRow } from './models.ts';
import { openDatabase } from './open-database.ts';
import { transact } from './transact.ts';

let folder = '';
let sequelize: Sequelize;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-data-'));
  sequelize = await openDatabase(folder);
  await writeFile(
    join(folder, 'people.json'),
    JSON.stringify({
      people: [
        {
          id: 'ann',
          displayName: 'Ann',
          firstName: 'Ann',
          surname: 'A',
          candidateNumber: null,
          role: 'student',
        },
      ],
      courses: [{ id: 'm', title: 'M', subject: 'music' }],
      enrolments: [{ personId: 'ann', courseId: 'm', role: 'student' }],
    }),
  );
  await importPeople(sequelize, join(folder, 'people.json'));
});
afterEach(async () => {
  await sequelize.close();
  await rm(folder, { recursive: true, force: true });
});

const buildAssignment = () => ({
  id: 'x',
  kind: 'course' as const,
  courseId: 'm',
  ownerId: null,
  title: 'X',
  instructions: '',
  limits: [],
  slots: [],
  materials: [],
  rubric: [],
  points: null,
  attemptsAllowed: null,
  isLateAllowed: true,
  setAt: new Date(),
  dueAt: null,
  coverSha256: null,
  dueByGroup: [],
});

describe('the database', () => {
  it('is in WAL mode and opens again on the same file', async () => {
    const [rows] = await sequelize.query('PRAGMA journal_mode');
    expect(rows).toEqual([{ journal_mode: 'wal' }]);
    await sequelize.close();
    sequelize = await openDatabase(folder);
    expect((await PersonRow.findByPk('ann'))?.displayName).toBe('Ann');
  });

  it('takes people over twice without doubling them', async () => {
    await importPeople(sequelize, join(folder, 'people.json'));
    expect(await PersonRow.count()).toBe(1);
  });

  it('gives instants and flags back as they went in', async () => {
    const dueAt = new Date('2026-11-27T16:00:00.123Z');
    await AssignmentRow.create({ ...buildAssignment(), dueAt });
    const row = await AssignmentRow.findByPk('x');
    expect([row?.dueAt, row?.isLateAllowed]).toEqual([dueAt, true]);
  });

  it('refuses rows that point nowhere', async () => {
    await expect(
      ParcelRow.create({
        personId: 'ann',
        assignmentId: 'none',
        parcel: { text: { note: '', participants: '', isOwnWork: false }, items: [], answers: [] },
      }),
    ).rejects.toThrow(/FOREIGN KEY/);
  });

  it('parses JSON columns on the way in and on the way out', async () => {
    await AssignmentRow.create(buildAssignment());
    expect(() =>
      AssignmentRow.build({ ...buildAssignment(), limits: [{ kind: 'nonsense' }] as never }),
    ).toThrow();
    await sequelize.query(`UPDATE assignments SET limits = '[{"kind":"nonsense"}]'`);
    const row = await AssignmentRow.findByPk('x');
    expect(() => row?.limits).toThrow();
  });

  it('keeps hand-ins as they are: neither removed nor changed', async () => {
    await AssignmentRow.create(buildAssignment());
    const frozen = {
      parcel: { text: { note: '', participants: '', isOwnWork: true }, items: [], answers: [] },
      answers: [],
      files: [],
    };
    const row = await HandInRow.create({
      id: 'h',
      personId: 'ann',
      assignmentId: 'x',
      attempt: 1,
      state: 'on-its-way',
      frozen,
      deliveryKey: 'k',
      fault: null,
      createdAt: new Date(),
      receivedAt: null,
      receiptId: null,
    });
    await row.update({ state: 'received' });
    await expect(row.destroy()).rejects.toMatchObject({
      parent: { message: expect.stringContaining('hand-ins are kept') as string },
    });
    await expect(
      row.update({
        frozen: {
          ...frozen,
          parcel: { ...frozen.parcel, text: { note: 'other', participants: '', isOwnWork: true } },
        },
      }),
    ).rejects.toMatchObject({ parent: { message: expect.stringContaining('frozen') as string } });
    await expect(AssignmentRow.destroy({ where: { id: 'x' } })).rejects.toThrow(/FOREIGN KEY/);
  });

  it('removes the takes of a person who goes', async () => {
    await AssignmentRow.create(buildAssignment());
    await TakeRow.create({
      id: 't',
      personId: 'ann',
      name: 'n',
      sha256: 's',
      sizeBytes: 1,
      state: 'inspecting',
      kind: null,
      isShaped: false,
      facts: null,
      proposal: null,
      fault: null,
      proxySha256: null,
      stripSha256: null,
      posterSha256: null,
      createdAt: new Date(),
    });
    await PersonRow.destroy({ where: { id: 'ann' } });
    expect(await TakeRow.count()).toBe(0);
  });

  it('waits for another writer', async () => {
    const other = new Sequelize({
      dialect: 'sqlite',
      storage: join(folder, 'apodix.sqlite'),
      logging: false,
    });
    const order: string[] = [];
    await Promise.all([
      transact(other, async (transaction) => {
        await other.query(`INSERT INTO courses VALUES ('slow', 'Slow', 'music')`, { transaction });
        await wait(1600);
        order.push('first');
      }),
      wait(200).then(() =>
        transact(sequelize, async (transaction) => {
          await sequelize.query(`INSERT INTO courses VALUES ('next', 'Next', 'music')`, { transaction });
          order.push('second');
        }),
      ),
    ]);
    expect(order).toEqual(['first', 'second']);
    await other.close();
  });

  it('knows its tables from the first, though another has the file to itself just then', async () => {
    const fresh = await mkdtemp(join(tmpdir(), 'apodix-data-'));
    const opened = await openDatabase(fresh);
    const other = new sqlite3.Database(join(fresh, 'apodix.sqlite'));
    const execute = (statements: string) =>
      new Promise<Error | null>((resolve) => void other.exec(statements, resolve));
    await execute('PRAGMA locking_mode = EXCLUSIVE; BEGIN EXCLUSIVE');
    const release = wait(300).then(() => new Promise((resolve) => void other.close(resolve)));
    const [rows] = await opened.query('SELECT count(*) AS many FROM courses');
    expect(rows).toEqual([{ many: 0 }]);
    await release;
    await opened.close();
    await rm(fresh, { recursive: true });
  });

  it('many that write at once, with transactions and without, all get their turn', async () => {
    await sequelize.query(`INSERT INTO courses VALUES ('a', '0', 'music'), ('b', '0', 'music')`);
    const slowly = transact(sequelize, async (transaction) => {
      for (let step = 1; step <= 10; step += 1) {
        await CourseRow.update({ title: String(step) }, { where: { id: 'a' }, transaction });
        await wait(60);
      }
    });
    const others = Array.from({ length: 30 }, (_, index) =>
      CourseRow.update({ title: String(index) }, { where: { id: 'b' } }),
    );
    await expect(Promise.all([slowly, ...others])).resolves.toHaveLength(31);
  });

  it('keeps every one of many changes that are made at once', async () => {
    await sequelize.query(`INSERT INTO courses VALUES ('count', '0', 'music')`);
    const add = () =>
      transact(sequelize, async (transaction) => {
        const row = await CourseRow.findByPk('count', { transaction, rejectOnEmpty: true });
        await row.update({ title: String(Number(row.title) + 1) }, { transaction });
      });
    await Promise.all(Array.from({ length: 40 }, add));
    expect((await CourseRow.findByPk('count'))?.title).toBe('40');
  });
});
