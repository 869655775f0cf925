import { ApodixError, CARD_PREFIX, type CardView } from '@apodix/core';
import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { Op } from 'sequelize';
import { EnrolmentRow, PersonCardRow, PersonRow } from '../data/models.ts';
import { viewPerson } from '../work/view-person.ts';

const hash = (code: string) => createHash('sha256').update(code).digest('hex');

/** Whose cards somebody may see, make and withdraw: one's own, and of those whom one teaches. */
export async function listCardPeople(person: PersonRow): Promise<PersonRow[]> {
  if (person.role === 'guest') return [];
  const taught = await EnrolmentRow.findAll({ where: { personId: person.id, role: 'teacher' } });
  const students = await EnrolmentRow.findAll({
    where: { courseId: { [Op.in]: taught.map((row) => row.courseId) }, role: 'student' },
  });
  const ids = new Set([person.id, ...students.map((row) => row.personId)]);
  return PersonRow.findAll({ where: { id: { [Op.in]: [...ids] } }, order: [['surname', 'ASC']] });
}

export function viewCard(card: PersonCardRow, person: PersonRow): CardView {
  return {
    id: card.id,
    person: viewPerson(person),
    createdAt: card.createdAt.toISOString(),
    withdrawnAt: card.withdrawnAt?.toISOString() ?? null,
  };
}

/** A new card; its code is told this once and kept as a hash. */
export async function makeCard(person: PersonRow, madeBy: string): Promise<{ card: CardView; code: string }> {
  const code = `${CARD_PREFIX}${randomBytes(18).toString('base64url')}`;
  const row = await PersonCardRow.create({
    id: randomUUID(),
    personId: person.id,
    codeHash: hash(code),
    madeBy,
    createdAt: new Date(),
  });
  return { card: viewCard(row, person), code };
}

/** Whose card it is. Throws `CARD_UNKNOWN`. */
export async function findCardOwner(code: string): Promise<PersonRow> {
  const card = await PersonCardRow.findOne({ where: { codeHash: hash(code), withdrawnAt: null } });
  const person = card && (await PersonRow.findByPk(card.personId));
  if (!person) throw new ApodixError('CARD_UNKNOWN');
  return person;
}
