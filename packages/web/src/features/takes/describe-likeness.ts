import { cleanDisplayName, isAlike, type TakeView } from '@apodix/core';

type Compared = Pick<TakeView, 'id' | 'name' | 'sha256' | 'facts' | 'createdAt'>;

/**
 * That a take was brought in before, to the byte or nearly; told of the younger one. null where it is another
 * thing.
 */
export function describeLikeness(take: Compared, all: readonly Compared[]): string | null {
  const older = all.filter((each) => each.id !== take.id && each.createdAt <= take.createdAt);
  const same = older.find((each) => each.sha256 === take.sha256);
  if (same) return `The same file as ${cleanDisplayName(same.name, 40)}.`;
  const alike = older.find((each) => isAlike(each.facts?.likeness ?? null, take.facts?.likeness ?? null));
  return alike ? `Looks nearly the same as ${cleanDisplayName(alike.name, 40)}.` : null;
}
