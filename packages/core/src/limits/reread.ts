import type { Limit } from './limit.ts';

const keyOf = (limit: Limit) =>
  [
    limit.kind,
    limit.appliesTo,
    'edge' in limit ? limit.edge : '',
    limit.kind === 'count' ? limit.item : '',
  ].join('|');

/**
 * Limits after the instructions have been read anew: what a person has changed or added stays as it is and
 * takes the place of what was read of the same thing; everything else comes from the new reading.
 */
export function rereadLimits(before: readonly Limit[], read: readonly Limit[]): Limit[] {
  const kept = before.filter((limit) => limit.isChangedByPerson);
  const keys = new Set(kept.map(keyOf));
  const fresh = read.filter((limit) => !keys.has(keyOf(limit)));
  const taken = new Set(kept.map((limit) => limit.id));
  return [...fresh.map((limit) => ({ ...limit, id: findFreeId(limit.id, taken) })), ...kept];
}

/**
 * Limits after a question about the instructions was answered: only what the answer changes in the reading is
 * changed in them. `before` and `after` are what is read without and with the answer.
 */
export function answerLimits(
  limits: readonly Limit[],
  before: readonly Limit[],
  after: readonly Limit[],
): Limit[] {
  const write = (all: readonly Limit[], key: string) =>
    JSON.stringify(all.filter((limit) => keyOf(limit) === key).map((limit) => ({ ...limit, id: '' })));
  const changed = new Set(
    [...before, ...after].map(keyOf).filter((key) => write(before, key) !== write(after, key)),
  );
  const own = new Set(limits.filter((limit) => limit.isChangedByPerson).map(keyOf));
  const isReplaced = (limit: Limit) => changed.has(keyOf(limit)) && !own.has(keyOf(limit));
  const kept = limits.filter((limit) => !isReplaced(limit));
  const taken = new Set(kept.map((limit) => limit.id));
  return [
    ...kept,
    ...after.filter(isReplaced).map((limit) => ({ ...limit, id: findFreeId(limit.id, taken) })),
  ];
}

/** An id that is not taken yet; takes it. */
export function findFreeId(wanted: string, taken: Set<string>): string {
  let id = wanted;
  for (let count = 2; taken.has(id); count += 1) id = `${wanted}-${count}`;
  taken.add(id);
  return id;
}
