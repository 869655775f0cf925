interface Waiting {
  readonly personId: string;
}

/**
 * Jobs in the order in which they are to begin: in turn from person to person, whoever has least under way
 * first; of one person, and where nobody has more than another, as they came. Many of one person never keep
 * another waiting for all of them.
 *
 * @param waiting as they came.
 * @param busy whose jobs are under way.
 */
export function orderFairly<T extends Waiting>(waiting: readonly T[], busy: readonly string[]): T[] {
  const counts = new Map<string, number>();
  const add = (personId: string) => counts.set(personId, (counts.get(personId) ?? 0) + 1);
  busy.forEach(add);
  // The turn in which each comes: after those of the same person, and what that one has under way.
  return waiting
    .map((job, came) => {
      const turn = counts.get(job.personId) ?? 0;
      add(job.personId);
      return { job, turn, came };
    })
    .sort((left, right) => left.turn - right.turn || left.came - right.came)
    .map(({ job }) => job);
}

/** A job under way. */
export interface Busy {
  /** Seconds until it ends; null where nobody knows yet. */
  readonly leftS: number | null;
  /** Seconds since it began. */
  readonly sinceS: number;
}

/**
 * In how many seconds each of so many waiting jobs begins, the first first, where each is as long as those
 * under way are on average; null where nobody knows how long these are.
 *
 * @param places how many jobs run at once.
 */
export function estimateStarts(busy: readonly Busy[], count: number, places: number): (number | null)[] {
  const known = busy.flatMap(({ leftS, sinceS }) => (leftS === null ? [] : [{ leftS, sinceS }]));
  if (known.length < busy.length || known.length === 0) return new Array<null>(count).fill(null);
  const meanS = known.reduce((sum, { leftS, sinceS }) => sum + leftS + sinceS, 0) / known.length;
  const free = [
    ...known.map(({ leftS }) => leftS),
    ...new Array<number>(Math.max(0, places - known.length)).fill(0),
  ];
  return Array.from({ length: count }, () => {
    free.sort((left, right) => left - right);
    const startS = free[0] ?? 0;
    free[0] = startS + meanS;
    return startS;
  });
}

/** What a job that waits says: how many begin before it, and when it does. */
export function describePlace(before: number, startS: number | null): string {
  const place = before === 0 ? 'Waiting: yours is next' : `Waiting: ${before} before yours`;
  if (startS === null) return place;
  if (startS < 90) return `${place}, begins in about ${Math.max(10, Math.round(startS / 10) * 10)} s`;
  return `${place}, begins in about ${Math.round(startS / 60)} min`;
}
