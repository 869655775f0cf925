import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Sequelize } from 'sequelize';
import { importPeople } from '../accounts/import-people.ts';
import { AssignmentRow, MadeRow, TakeRow, TakeUseRow } from '../data/models.ts';
import { openDatabase } from '../data/open-database.ts';

export interface TestDatabase {
  readonly folder: string;
  readonly sequelize: Sequelize;
  close(): Promise<void>;
}

const buildPerson = (id: string, role: string) => ({
  id,
  displayName: id,
  firstName: id,
  surname: 'A',
  candidateNumber: null,
  role,
});

/** A database in a folder of its own, with Ann and Bob in a course. */
export async function openTestDatabase(): Promise<TestDatabase> {
  const folder = await mkdtemp(join(tmpdir(), 'apodix-test-'));
  const sequelize = await openDatabase(folder);
  const people = {
    people: [buildPerson('ann', 'student'), buildPerson('bob', 'student')],
    courses: [{ id: 'music', title: 'Music', subject: 'music' }],
    enrolments: ['ann', 'bob'].map((personId) => ({ personId, courseId: 'music', role: 'student' })),
  };
  await writeFile(join(folder, 'people.json'), JSON.stringify(people));
  await importPeople(sequelize, join(folder, 'people.json'));
  return {
    folder,
    sequelize,
    close: async () => {
      await sequelize.close();
      await rm(folder, { recursive: true, force: true });
    },
  };
}

export async function addOwnAssignment(id: string, ownerId: string): Promise<AssignmentRow> {
  return AssignmentRow.create({
    id,
    kind: 'own',
    courseId: null,
    ownerId,
    title: id,
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
}

export async function addTake(id: string, personId: string, sha256: string, assignmentId?: string) {
  const createdAt = new Date();
  const take = await TakeRow.create({
    id,
    personId,
    name: `${id}.jpg`,
    sha256,
    sizeBytes: 1000,
    state: 'inspecting',
    kind: null,
    isShaped: false,
    facts: null,
    proposal: null,
    fault: null,
    proxySha256: null,
    stripSha256: null,
    posterSha256: null,
    createdAt,
  });
  if (assignmentId)
    await TakeUseRow.create({ takeId: id, assignmentId, personId, isChosen: false, createdAt });
  return take;
}

/** A made file as far as the database asks for: its insides are never parsed. */
export async function addMade(
  sequelize: Sequelize,
  id: string,
  of: { takeId: string; personId: string; assignmentId: string; sha256: string; sizeBytes?: number },
): Promise<void> {
  const { takeId, personId, assignmentId, sha256, sizeBytes = 500 } = of;
  await sequelize.query(
    `INSERT INTO made_files (id, takeId, personId, assignmentId, fileName, sha256, sizeBytes, facts, findings, plan, inputHash, createdAt)
     VALUES (?, ?, ?, ?, ?, ?, ?, '{}', '[]', '{}', ?, ?)`,
    {
      replacements: [id, takeId, personId, assignmentId, `${id}.jpg`, sha256, sizeBytes, id, new Date()],
    },
  );
  if (!(await MadeRow.count({ where: { id } }))) throw new Error('The made file was not written.');
}
