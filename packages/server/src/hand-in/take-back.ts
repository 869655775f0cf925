import { ApodixError, DeliveryView, findStanding, moveHandIn } from '@apodix/core';
import { HandInRow, ReceiptRow, type AssignmentRow, type PersonRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import { callCourseSite } from '../delivery/course-site.ts';
import type { Services } from '../services/services.ts';
import { writeAudit } from '../work/write-audit.ts';

const ANSWER_MS = 15_000;

/**
 * Takes back what was handed in, while nobody has begun to check it. The course site has the last word: only
 * what it gave back is taken back. Throws `NOT_FOUND`, `CHECK_BEGUN`, `DELIVERY_FAILED`.
 */
export async function takeBack(
  person: PersonRow,
  assignment: AssignmentRow,
  services: Pick<Services, 'sequelize' | 'courseSite'>,
): Promise<void> {
  const where = { personId: person.id, assignmentId: assignment.id };
  const standing = findStanding(await HandInRow.findAll({ where }));
  if (!standing) throw new ApodixError('BAD_REQUEST', { detail: 'Nothing has been handed in.' });
  if (standing.state === 'received') await askSite(standing, services);
  else if (standing.state !== 'by-hand') throw new ApodixError('CHECK_BEGUN');
  await transact(services.sequelize, async (transaction) => {
    await standing.reload({ transaction });
    if (standing.state === 'taken-back') return;
    await standing.update({ state: moveHandIn(standing.state, 'take-back') }, { transaction });
    await writeAudit(person.id, assignment.id, 'Taken back', transaction);
  });
}

async function askSite(handIn: HandInRow, { courseSite }: Pick<Services, 'courseSite'>): Promise<void> {
  const receipt = await ReceiptRow.findOne({ where: { handInId: handIn.id } });
  if (!receipt) throw new ApodixError('NOT_FOUND');
  const path = `/api/deliveries/${encodeURIComponent(receipt.receipt.courseSite.deliveryId)}/take-back`;
  const view = await callCourseSite(courseSite, path, {
    method: 'POST',
    signal: AbortSignal.timeout(ANSWER_MS),
  })
    .then(async (answer) => DeliveryView.parse(await answer.json()))
    .catch((error: unknown) => {
      throw new ApodixError('SITE_SILENT', { cause: error });
    });
  if (view.state !== 'taken-back') throw new ApodixError('CHECK_BEGUN');
}
