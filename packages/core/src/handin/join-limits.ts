import { writeCanonicalJson } from '../json/canonical-json.ts';
import type { Limit, Limits } from '../limits/limit.ts';
import type { LimitsOrigin } from './receipt.ts';

/** The limits that work on an assignment is held against, and where they come from. */
export interface JoinedLimits {
  readonly limits: Limits;
  readonly origin: LimitsOrigin;
  /** Limits that are the student's own reading: aimed at, never what the hand-in is judged by. */
  readonly ownIds: readonly string[];
}

const MOST_LIMITS = 60;

/**
 * Joins what a course asks for with a student's own reading of it. What the course announced as limits
 * stands; where the student reads something else, that is aimed at beside it as a *should*. Limits that were
 * only read from the instructions give way to the student's corrections.
 */
export function joinLimits(
  course: { readonly limits: Limits; readonly isAnnounced: boolean },
  own: Limits | null,
): JoinedLimits {
  if (own === null)
    return { limits: course.limits, origin: course.isAnnounced ? 'course' : 'read', ownIds: [] };
  if (!course.isAnnounced)
    return {
      limits: own,
      origin: isSameLimits(own, course.limits) ? 'read' : 'read-and-corrected',
      ownIds: [],
    };
  const announced = new Set(course.limits.map(hashDemand));
  const taken = new Set(course.limits.map((limit) => limit.id));
  const added = own
    .filter((limit) => !announced.has(hashDemand(limit)))
    .slice(0, MOST_LIMITS - course.limits.length)
    .map((limit): Limit => ({ ...limit, id: findFreeId(limit.id, taken), severity: 'should' }));
  return {
    limits: [...course.limits, ...added],
    origin: 'course',
    ownIds: added.map((limit) => limit.id),
  };
}

/** Whether two lists ask for the same, in whatever order and words. */
export function isSameLimits(left: Limits, right: Limits): boolean {
  const demandsOf = (limits: Limits) => limits.map(hashDemand).sort().join('\n');
  return demandsOf(left) === demandsOf(right);
}

/** What a limit asks for, without where its words stand. */
function hashDemand({ id: _id, words: _words, isChangedByPerson: _isChanged, ...demand }: Limit): string {
  return writeCanonicalJson(demand);
}

function findFreeId(id: string, taken: Set<string>): string {
  const own = (id.startsWith('own-') ? id : `own-${id}`).slice(0, 56);
  let free = own;
  for (let count = 2; taken.has(free); count += 1) free = `${own}-${count}`;
  taken.add(free);
  return free;
}
