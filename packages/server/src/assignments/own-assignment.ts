import { isSameLimits, type Answers, type Limits } from '@apodix/core';
import type { Transaction } from 'sequelize';
import {
  AssignmentRow,
  BriefAnswersRow,
  BriefRow,
  TakeRow,
  TakeUseRow,
  type PersonRow,
} from '../data/models.ts';
import { transact } from '../data/transact.ts';
import type { Services } from '../services/services.ts';
import { buildOwnSlots } from './own-slots.ts';

export interface KeptLimits {
  readonly limits: Limits;
  readonly answers?: Answers | undefined;
  readonly instructions?: string | undefined;
  readonly title?: string | undefined;
  readonly dueAt?: string | null | undefined;
}

/**
 * Keeps limits as a person has checked them: on the assignment where it is theirs, else as their own reading
 * of it.
 */
export async function keepLimits(
  person: PersonRow,
  assignment: AssignmentRow,
  kept: KeptLimits,
): Promise<void> {
  const { limits, instructions, title, dueAt, answers } = kept;
  const where = { personId: person.id, assignmentId: assignment.id };
  if (answers) await BriefAnswersRow.upsert({ ...where, answers });
  if (assignment.ownerId !== person.id) {
    // An answer that changes no limit is no reading of one's own.
    const isOnlyAnswered = answers && instructions === undefined && isSameLimits(limits, assignment.limits);
    if (isOnlyAnswered && !(await BriefRow.findOne({ where }))) return;
    await BriefRow.upsert({
      ...where,
      limits,
      instructions:
        instructions === undefined || instructions === assignment.instructions ? null : instructions,
    });
    return;
  }
  await assignment.update({
    limits,
    slots: buildOwnSlots(limits),
    ...(instructions === undefined ? {} : { instructions }),
    ...(title === undefined ? {} : { title }),
    ...(dueAt === undefined ? {} : { dueAt: dueAt === null ? null : new Date(dueAt) }),
  });
}

/**
 * Removes an assignment of one's own with the takes that serve nothing else: they are seen nowhere, and
 * cleared away for good after a day.
 */
export async function removeOwnAssignment(assignment: AssignmentRow, services: Services): Promise<void> {
  for (const job of await services.jobs.listOpen({ assignmentId: assignment.id }))
    await services.jobs.cancel(job.id);
  const removedAt = new Date();
  await transact(services.sequelize, async (transaction) => {
    await assignment.update({ removedAt }, { transaction });
    const takeIds = await findOnlyHere(assignment.id, transaction);
    await TakeRow.update({ removedAt }, { where: { id: takeIds, removedAt: null }, transaction });
  });
  tell(assignment, services);
}

/** Brings it back with what was removed with it. */
export async function restoreOwnAssignment(assignment: AssignmentRow, services: Services): Promise<void> {
  const { removedAt } = assignment;
  await transact(services.sequelize, async (transaction) => {
    await assignment.update({ removedAt: null }, { transaction });
    const takeIds = await findOnlyHere(assignment.id, transaction);
    await TakeRow.update({ removedAt: null }, { where: { id: takeIds, removedAt }, transaction });
  });
  tell(assignment, services);
}

/** Takes that serve this assignment and no other. */
async function findOnlyHere(assignmentId: string, transaction: Transaction): Promise<string[]> {
  const here = (await TakeUseRow.findAll({ where: { assignmentId }, transaction })).map((use) => use.takeId);
  const uses = await TakeUseRow.findAll({ where: { takeId: here }, transaction });
  const elsewhere = new Set(uses.filter((use) => use.assignmentId !== assignmentId).map((use) => use.takeId));
  return here.filter((takeId) => !elsewhere.has(takeId));
}

function tell(assignment: AssignmentRow, { live }: Services): void {
  if (!assignment.ownerId) return;
  live.tell(assignment.ownerId, { type: 'work', assignmentId: assignment.id });
  live.tell(assignment.ownerId, { type: 'takes' });
}
