import type { AssignmentRow } from '../data/models.ts';

/** When the work is due for a person: groups of a course may have a due time of their own. */
export function findDueAt(
  assignment: Pick<AssignmentRow, 'dueAt' | 'dueByGroup'>,
  group: string | null,
): Date | null {
  const own = assignment.dueByGroup.find((each) => each.group === group)?.dueAt;
  return own === undefined ? assignment.dueAt : new Date(own);
}
