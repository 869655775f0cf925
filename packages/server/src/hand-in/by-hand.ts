import { ApodixError, isHeld, moveHandIn } from '@apodix/core';
import { randomUUID } from 'node:crypto';
import { HandInRow, type AssignmentRow, type PersonRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import type { Services } from '../services/services.ts';
import { loadWork } from '../work/load-work.ts';
import { writeAudit } from '../work/write-audit.ts';
import { freezeAnswers } from './press-hand-in.ts';

/**
 * Notes that the work was given to the teacher without the course site. There is no receipt: nobody but the
 * student says so. Throws `BAD_REQUEST` where something is on its way or held already.
 */
export async function noteByHand(
  person: PersonRow,
  assignment: AssignmentRow,
  note: string,
  services: Pick<Services, 'sequelize'>,
): Promise<void> {
  if (assignment.courseId === null)
    throw new ApodixError('BAD_REQUEST', { detail: 'An assignment of your own has no teacher.' });
  const work = await loadWork(person, assignment);
  await transact(services.sequelize, async (transaction) => {
    const where = { personId: person.id, assignmentId: assignment.id };
    const before = await HandInRow.findAll({ where, transaction });
    if (before.some((row) => row.state === 'on-its-way' || isHeld(row.state)))
      throw new ApodixError('BAD_REQUEST', { detail: 'It is on its way or handed in already.' });
    const now = new Date();
    await HandInRow.create(
      {
        ...where,
        id: randomUUID(),
        // Attempts count what the teacher had; what was taken back keeps its number.
        attempt: Math.max(0, ...before.map((row) => row.attempt)) + 1,
        state: moveHandIn('draft', 'note-by-hand'),
        frozen: {
          parcel: work.parcel,
          limitsFrom: work.joined.origin,
          answers: freezeAnswers(work),
          files: [],
        },
        deliveryKey: randomUUID(),
        fault: null,
        createdAt: now,
        receivedAt: now,
        receiptId: null,
        askedAt: null,
        note,
      },
      { transaction },
    );
    await writeAudit(person.id, assignment.id, 'Noted as given by hand', transaction);
  });
}
