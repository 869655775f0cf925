import {
  Announcements,
  describeChanges,
  isSameLimits,
  readInstructions,
  type Announcement,
  type AnnouncedWork,
  type Limits,
} from '@apodix/core';
import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import type { Sequelize } from 'sequelize';
import { AssignmentChangeRow, AssignmentRow, CourseRow, EnrolmentRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import { callCourseSite, type CourseSite } from '../delivery/course-site.ts';
import type { LiveEvents } from '../events/live-events.ts';

export interface SyncContext {
  readonly sequelize: Sequelize;
  readonly site: CourseSite;
  readonly live: LiveEvents;
  readonly log: Logger;
  /** How dates are written at the school (BCP 47). */
  readonly locale: string;
  /** Called after what an assignment asks for has changed. */
  readonly follow?: (assignmentId: string) => Promise<void>;
}

const ANSWER_MS = 5000;

/**
 * Takes over what the course site announces for the courses that are known here. What a teacher changed since
 * is written down and told to everyone in the course. What a site no longer announces stays. A site that
 * cannot be reached is no fault: Apodix works on with what it knows.
 */
export async function syncAnnouncements(context: SyncContext): Promise<number> {
  try {
    const answer = await callCourseSite(context.site, '/api/assignments', {
      signal: AbortSignal.timeout(ANSWER_MS),
    });
    const { assignments } = Announcements.parse(await answer.json());
    const courses = new Set((await CourseRow.findAll()).map((row) => row.id));
    const known = assignments.filter((each) => courses.has(each.courseId));
    for (const each of known) await takeOver(each, context);
    return known.length;
  } catch (error) {
    context.log.warn({ err: error }, 'The course site could not be asked for its assignments');
    return 0;
  }
}

async function takeOver(
  announced: Announcement,
  { sequelize, live, log, locale, follow }: SyncContext,
): Promise<void> {
  const last = await AssignmentRow.findByPk(announced.id);
  const isAnnounced = announced.limits.length > 0;
  const limits = isAnnounced ? announced.limits : readProse(announced, last, locale);
  const dueAt = announced.dueAt === null ? null : new Date(announced.dueAt);
  const after = { ...announced, limits, dueAt: dueAt?.toISOString() ?? null };
  const changes = last ? describeChanges(describe(last), after) : [];
  await transact(sequelize, async (transaction) => {
    await AssignmentRow.upsert(
      {
        ...announced,
        limits,
        isAnnounced,
        kind: 'course',
        ownerId: null,
        setAt: new Date(announced.setAt),
        dueAt,
        coverSha256: null,
      },
      { transaction },
    );
    if (changes.length > 0)
      await AssignmentChangeRow.create(
        { id: randomUUID(), assignmentId: announced.id, changes, createdAt: new Date() },
        { transaction },
      );
  });
  if (changes.length === 0) return;
  const students = await EnrolmentRow.findAll({ where: { courseId: announced.courseId, role: 'student' } });
  for (const { personId } of students) live.tell(personId, { type: 'work', assignmentId: announced.id });
  // Whatever goes wrong with it, what the course asks for is taken over.
  await follow?.(announced.id).catch((error: unknown) =>
    log.warn({ err: error }, 'What is made ahead could not follow'),
  );
}

const NUMBER_WORD =
  /\d|\b(?:one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|single|both|couple|dozen|pair)\b/i;

/**
 * Where a site announces prose alone, the limits are read from it, once for each wording. How many items are
 * wanted the site's own slots tell, where the words hold no number.
 */
function readProse(announced: Announcement, last: AssignmentRow | null, locale: string): Limits {
  if (last && !last.isAnnounced && last.instructions === announced.instructions) return last.limits;
  const read = readInstructions(announced.instructions, { now: announced.setAt.slice(0, 16), locale });
  const limits = read.limits.filter(
    ({ kind, words }) => kind !== 'count' || announced.slots.length === 0 || NUMBER_WORD.test(words ?? ''),
  );
  return last && isSameLimits(last.limits, limits) ? last.limits : limits;
}

function describe(row: AssignmentRow): AnnouncedWork {
  const { title, instructions, limits, slots, dueByGroup, attemptsAllowed, isLateAllowed } = row;
  const dueAt = row.dueAt?.toISOString() ?? null;
  return { title, instructions, limits, slots, dueAt, dueByGroup, attemptsAllowed, isLateAllowed };
}
