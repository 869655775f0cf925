import { PeopleFile } from '@apodix/core';
import { readFile } from 'node:fs/promises';
import type { Sequelize } from 'sequelize';
import { CourseRow, EnrolmentRow, PersonRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';

/**
 * Takes over people, courses and enrolments from `people.json`, where there is one. Nobody who is known is
 * removed.
 */
export async function importPeople(sequelize: Sequelize, path: string): Promise<void> {
  const raw = await readFile(path, 'utf8').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });
  if (raw === null) return;
  const { people, courses, enrolments } = PeopleFile.parse(JSON.parse(raw));
  await transact(sequelize, async (transaction) => {
    for (const person of people) await PersonRow.upsert(person, { transaction });
    for (const course of courses) await CourseRow.upsert(course, { transaction });
    for (const { group, ...where } of enrolments) {
      const [row] = await EnrolmentRow.findOrCreate({
        where,
        defaults: { ...where, groupName: group },
        transaction,
      });
      if (row.groupName !== group) await row.update({ groupName: group }, { transaction });
    }
  });
}
