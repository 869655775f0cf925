import { writeCanonicalJson } from '../json/canonical-json.ts';
import type { Limit, Limits } from '../limits/limit.ts';
import { describeLimit } from '../limits/table.ts';
import type { Slot } from './parcel.ts';

/** What of an assignment a teacher can change after it was set. */
export interface AnnouncedWork {
  readonly title: string;
  readonly instructions: string;
  readonly limits: Limits;
  readonly slots: readonly Slot[];
  readonly dueAt: string | null;
  readonly dueByGroup: readonly { readonly group: string; readonly dueAt: string }[];
  readonly attemptsAllowed: number | null;
  readonly isLateAllowed: boolean;
}

/** One change, in words; instants stand apart, so that each reader sees them in their own way of writing. */
export interface AssignmentChange {
  readonly what: string;
  readonly before: string | null;
  readonly after: string | null;
  /** `instant` where before and after are ISO times. */
  readonly as: 'words' | 'instant';
}

const isEqual = (left: unknown, right: unknown) => writeCanonicalJson(left) === writeCanonicalJson(right);

/** What a teacher changed, as a student has to be told; empty where nothing that matters did. */
export function describeChanges(before: AnnouncedWork, after: AnnouncedWork): AssignmentChange[] {
  const changes: AssignmentChange[] = [];
  const tell = (
    what: string,
    from: string | null,
    to: string | null,
    as: AssignmentChange['as'] = 'words',
  ) => (from === to ? 0 : changes.push({ what, before: from, after: to, as }));
  tell('Title', before.title, after.title);
  tell('Due', before.dueAt, after.dueAt, 'instant');
  const groups = new Set([...before.dueByGroup, ...after.dueByGroup].map((each) => each.group));
  for (const group of groups) {
    const dueOf = (work: AnnouncedWork) =>
      work.dueByGroup.find((each) => each.group === group)?.dueAt ?? work.dueAt;
    if (dueOf(before) !== before.dueAt || dueOf(after) !== after.dueAt)
      tell(`Due for ${group}`, dueOf(before), dueOf(after), 'instant');
  }
  changes.push(...describeLimitChanges(before.limits, after.limits));
  if (!isEqual(before.slots, after.slots))
    tell('To hand in', listSlots(before.slots), listSlots(after.slots));
  tell('Attempts', countAttempts(before.attemptsAllowed), countAttempts(after.attemptsAllowed));
  tell('Late hand-ins', writeLate(before.isLateAllowed), writeLate(after.isLateAllowed));
  if (before.instructions !== after.instructions)
    changes.push({ what: 'The instructions have new words', before: null, after: null, as: 'words' });
  return changes;
}

function describeLimitChanges(before: Limits, after: Limits): AssignmentChange[] {
  const keyOf = (limit: Limit) =>
    [
      limit.kind,
      limit.appliesTo,
      'item' in limit ? limit.item : '',
      'edge' in limit ? limit.edge : '',
    ].join();
  const demandOf = (limit: Limit | undefined) =>
    limit
      ? `${describeLimit(limit).wanted || describeLimit(limit).label}${limit.severity === 'should' ? ' (wished)' : ''}`
      : null;
  const keys = [...new Set([...before, ...after].map(keyOf))];
  return keys.flatMap((key): AssignmentChange[] => {
    const ofKey = (limits: Limits) => limits.filter((limit) => keyOf(limit) === key);
    const [olds, news] = [ofKey(before), ofKey(after)];
    return Array.from({ length: Math.max(olds.length, news.length) }, (_, index): AssignmentChange => {
      const known = news[index] ?? olds[index];
      return {
        what: known ? describeLimit(known).label : '',
        before: demandOf(olds[index]),
        after: demandOf(news[index]),
        as: 'words',
      };
    }).filter((change) => change.before !== change.after);
  });
}

const listSlots = (slots: readonly Slot[]) =>
  slots.map((slot) => (slot.min > 1 ? `${slot.min} × ${slot.label}` : slot.label)).join(', ');
const countAttempts = (count: number | null) => (count === null ? 'as many as you like' : String(count));
const writeLate = (isAllowed: boolean) => (isAllowed ? 'taken' : 'not taken');
