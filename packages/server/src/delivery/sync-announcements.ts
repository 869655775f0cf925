import { Announcements, readInstructions } from '@apodix/core';
import type { Logger } from 'pino';
import { AssignmentRow, CourseRow } from '../data/models.ts';
import { callCourseSite, type CourseSite } from './course-site.ts';

/**
 * Takes over what the course site announces for the courses that are known here. What a site no longer
 * announces stays. A site that cannot be reached is no fault: Apodix works on with what it knows.
 */
export async function syncAnnouncements(site: CourseSite, log: Logger): Promise<number> {
  try {
    const answer = await callCourseSite(site, '/api/assignments', { signal: AbortSignal.timeout(5000) });
    const { assignments } = Announcements.parse(await answer.json());
    const courses = new Set((await CourseRow.findAll()).map((row) => row.id));
    const known = assignments.filter((each) => courses.has(each.courseId));
    const before = new Map(
      (await AssignmentRow.findAll({ where: { kind: 'course' } })).map((row) => [row.id, row]),
    );
    for (const each of known) {
      // Where a site announces prose alone, the limits are read from it, once for each wording.
      const last = before.get(each.id);
      const readLimits = () =>
        last?.instructions === each.instructions
          ? last.limits
          : readInstructions(each.instructions, { now: each.setAt.slice(0, 16) }).limits;
      const limits = each.limits.length > 0 ? each.limits : readLimits();
      await AssignmentRow.upsert({
        ...each,
        limits,
        kind: 'course',
        ownerId: null,
        setAt: new Date(each.setAt),
        dueAt: each.dueAt === null ? null : new Date(each.dueAt),
        coverSha256: null,
      });
    }
    return known.length;
  } catch (error) {
    log.warn({ err: error }, 'The course site could not be asked for its assignments');
    return 0;
  }
}
