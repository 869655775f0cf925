import type { Limits } from '@apodix/core';
import { listBlobsOfMade, releaseBlobs } from '../blobs/release-blobs.ts';
import { AssignmentRow, BriefRow, JobRow, MadeRow, TakeRow, type PersonRow } from '../data/models.ts';
import type { Services } from '../services.ts';
import { buildOwnSlots } from './own-slots.ts';

export interface KeptLimits {
  readonly limits: Limits;
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
  const { limits, instructions, title, dueAt } = kept;
  if (assignment.ownerId !== person.id) {
    await BriefRow.upsert({
      personId: person.id,
      assignmentId: assignment.id,
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

/** Removes an assignment of one's own with its takes, made files and the bytes that nothing else uses. */
export async function removeOwnAssignment(assignment: AssignmentRow, services: Services): Promise<void> {
  const where = { assignmentId: assignment.id };
  for (const job of await JobRow.findAll({ where: { ...where, state: ['waiting', 'running'] } }))
    await services.jobs.cancel(job);
  const [takes, made] = [await TakeRow.findAll({ where }), await MadeRow.findAll({ where })];
  await assignment.destroy();
  await releaseBlobs(services.blobs, [
    ...takes.flatMap((row) => [
      row.sha256,
      row.proxySha256,
      row.stripSha256,
      row.posterSha256,
      row.intermediateSha256,
    ]),
    ...made.flatMap(listBlobsOfMade),
  ]);
}
