import type { Logger } from 'pino';
import { Op } from 'sequelize';
import { AssignmentRow, MadeRow, PersonRow, TakeRow } from '../data/models.ts';
import type { JobQueue } from '../queue/job-queue.ts';
import type { BlobReferences } from '../references/blob-references.ts';
import { removeEndedLinks } from '../phones/phone-links.ts';
import type { SessionStore } from '../sessions/session-store.ts';

export interface TidyContext {
  readonly sessions: SessionStore;
  readonly jobs: Pick<JobQueue, 'removeEnded'>;
  readonly references: BlobReferences;
  readonly uploads: { removeExpired(): Promise<number> };
  readonly pieces: { tidy(now: Date): Promise<number> };
  readonly log: Logger;
}

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** Jobs that have ended are kept for so long: a page may still ask for them. */
const JOB_DAYS = 30;
/** So long what was removed can be brought back. */
export const REMOVED_HOURS = 24;

/**
 * Clears away what nobody needs any more: sessions that have run out, guests with all that was theirs, what
 * was removed a day ago, old jobs, uploads that were left, bytes that nothing speaks of, and
 * coded pieces that were not used for a day. One that fails
 * keeps none of the others from being done.
 */
export async function tidyUp(context: TidyContext, now = new Date()): Promise<void> {
  const { sessions, jobs, references, uploads, pieces, log } = context;
  const removedAt = { [Op.lt]: new Date(now.getTime() - REMOVED_HOURS * HOUR_MS) };
  const steps: (() => Promise<unknown>)[] = [
    () => sessions.removeExpired(now),
    () => removeGuests(sessions),
    () => removeEndedLinks(now),
    () => MadeRow.destroy({ where: { removedAt } }),
    () => TakeRow.destroy({ where: { removedAt } }),
    () => AssignmentRow.destroy({ where: { removedAt } }),
    () => jobs.removeEnded(new Date(now.getTime() - JOB_DAYS * DAY_MS)),
    () => uploads.removeExpired(),
    () => references.sweep(),
    () => pieces.tidy(now),
  ];
  for (const step of steps)
    await step().catch((error: unknown) =>
      log.error({ err: error }, 'What is not needed any more could not be cleared away'),
    );
}

/** A guest whose session has ended can never come back to what was made. Gives how many went. */
async function removeGuests(sessions: SessionStore): Promise<number> {
  let count = 0;
  for (const guest of await PersonRow.findAll({ where: { role: 'guest' } }))
    if (!(await sessions.hasAny(guest.id))) count += await PersonRow.destroy({ where: { id: guest.id } });
  return count;
}
