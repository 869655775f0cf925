import { findConflicts, type Conflict, type Limit, type ReadLimits } from '@apodix/core';

/**
 * What cannot be met together: contradictions inside the text, as long as a person has not settled them by
 * changing the limit, and limits that clash as they now stand. Each message once.
 */
export function collectConflicts(
  read: Pick<ReadLimits, 'conflicts'>,
  limits: readonly Limit[],
  now: string,
): Conflict[] {
  const open = new Set(limits.filter((limit) => !limit.isChangedByPerson).map((limit) => limit.id));
  const all = [
    ...read.conflicts.filter((conflict) => conflict.limitIds.every((id) => open.has(id))),
    ...findConflicts(limits, now),
  ];
  return all.filter(
    (conflict, index) => all.findIndex((each) => each.message === conflict.message) === index,
  );
}
