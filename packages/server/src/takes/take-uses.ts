import { ApodixError, findMissingStream, isStillKind } from '@apodix/core';
import type { Transaction } from 'sequelize';
import { TakeRow, TakeUseRow } from '../data/models.ts';
import type { Work } from '../work/load-work.ts';

/** Whether a take is already chosen for an assignment. */
export async function hasChosen(work: Work, transaction: Transaction): Promise<boolean> {
  const where = { personId: work.person.id, assignmentId: work.assignment.id, isChosen: true };
  return (await TakeUseRow.count({ where, transaction })) > 0;
}

/**
 * Puts a take of one's own into the service of an assignment; it may be there already. Throws what it lacks
 * for it (`MISSING_SOUND` and the like), and `BAD_REQUEST` where it cannot be used at all.
 */
export async function useTake(take: TakeRow, work: Work, transaction: Transaction): Promise<TakeUseRow> {
  const { id: takeId, personId } = take;
  const assignmentId = work.assignment.id;
  const known = await TakeUseRow.findOne({ where: { takeId, assignmentId }, transaction });
  if (known) return known;
  if (take.state === 'refused' || !take.facts)
    throw new ApodixError('BAD_REQUEST', { detail: 'This take cannot be used.' });
  const lack = findMissingStream(work.limits, take.facts);
  if (lack) throw new ApodixError(lack);
  const isChosen = isStillKind(take.facts.kind) || !(await hasChosen(work, transaction));
  return TakeUseRow.create(
    { takeId, assignmentId, personId, isChosen, createdAt: new Date() },
    { transaction },
  );
}

/** Chooses the newest take that is left, where none is chosen any more. */
export async function chooseAnother(
  of: { readonly personId: string; readonly assignmentId: string },
  transaction: Transaction,
): Promise<void> {
  const uses = await TakeUseRow.findAll({ where: of, order: [['createdAt', 'DESC']], transaction });
  const takes = await TakeRow.findAll({
    where: { id: uses.map((use) => use.takeId), state: 'ready', removedAt: null },
    transaction,
  });
  const left = uses.filter((use) => !use.fault && takes.some((take) => take.id === use.takeId));
  if (!left.some((use) => use.isChosen)) await left[0]?.update({ isChosen: true }, { transaction });
}
