import { LEAST_BITS_PER_PIXEL } from '../fit/video-budget.ts';
import { readLengthBounds } from '../limits/size-rows.ts';
import { LocalTime, type Limit, type LimitOf } from '../limits/limit.ts';
import type { Answers } from '../limits/answers.ts';
import { readLimits, type ReadLimits } from '../limits/reader/read-limits.ts';
import { writeLocalTime } from '../limits/words.ts';
import { formatBytes } from '../units/bytes.ts';
import { formatDuration } from '../units/duration.ts';
import type { ReaderModels } from '../limits/deciding/models.ts';
import type { Conflict } from '../limits/deciding/merge-limits.ts';

export interface ReadOptions {
  /**
   * Wall clock at the school, `2026-11-24T09:00`: "tomorrow" is counted from it. Of a `Date` its UTC clock
   * counts. Without it, or where it is none, due times are not read.
   */
  readonly now?: string | Date;
  /** How dates are written at the school (BCP 47); day first without it. */
  readonly locale?: string;
  /** Readings that a person chose where words can be understood in two ways, by the question's id. */
  readonly answers?: Answers;
  /** What to decide by, in place of what is shipped: for measuring. */
  readonly models?: ReaderModels;
}

/** Longest text that is read; the rest is told as not understood. */
export const MAX_INSTRUCTIONS = 200_000;

/**
 * Turns a teacher's prose into limits with the stretches of text they came from, what was not understood, and
 * what cannot be met together. Deterministic and offline; never throws.
 */
export function readInstructions(text: string, options: ReadOptions = {}): ReadLimits {
  const now = readNow(options.now);
  const read = readLimits(text.slice(0, MAX_INSTRUCTIONS), now, {
    models: options.models,
    answers: options.answers,
    isMonthFirst: isMonthFirst(options.locale),
  });
  const rest = text.slice(MAX_INSTRUCTIONS);
  const notUnderstood =
    rest.trim() === ''
      ? read.notUnderstood
      : [...read.notUnderstood, { start: MAX_INSTRUCTIONS, end: text.length, text: rest.slice(0, 500) }];
  return {
    ...read,
    notUnderstood,
    conflicts: [...read.conflicts, ...findConflicts(read.limits, now)],
  };
}

/** Whether a place writes the month before the day (CLDR). */
function isMonthFirst(locale: string | undefined): boolean {
  if (locale === undefined) return false;
  try {
    const parts = new Intl.DateTimeFormat(locale, { day: 'numeric', month: 'numeric' }).formatToParts(0);
    const at = (type: string) => parts.findIndex((part) => part.type === type);
    return at('month') < at('day');
  } catch {
    return false;
  }
}

function readNow(now: string | Date | undefined): string | null {
  const written =
    now instanceof Date ? (Number.isNaN(now.getTime()) ? '' : now.toISOString().slice(0, 16)) : now;
  return written !== undefined && LocalTime.safeParse(written).success ? written : null;
}

/**
 * Limits that no file can meet together, and due times that have passed, each with what would be possible.
 */
export function findConflicts(limits: readonly Limit[], now: string | null): Conflict[] {
  const conflicts: Conflict[] = [];
  const all = <K extends Limit['kind']>(kind: K) =>
    limits.filter((limit): limit is LimitOf<K> => limit.kind === kind);
  for (const due of all('due')) {
    if (now !== null && due.at < now)
      conflicts.push({
        limitIds: [due.id],
        message: `The due time, ${writeLocalTime(due.at, due.hasTime)}, has passed.`,
        possible: 'Check the date with your teacher.',
      });
  }
  for (const format of all('format')) {
    if (format.wanted.length > 0 && format.wanted.every((id) => format.refused.includes(id)))
      conflicts.push({
        limitIds: [format.id],
        message: 'The same format is wanted and refused.',
        possible: 'Ask your teacher which one counts.',
      });
  }
  for (const limit of limits) {
    for (const other of limits) {
      if (
        limit === other ||
        limit.kind !== other.kind ||
        limit.id > other.id ||
        (limit.appliesTo !== other.appliesTo && limit.appliesTo !== 'any' && other.appliesTo !== 'any')
      )
        continue;
      const clash = findClash(limit, other);
      if (clash)
        conflicts.push({
          limitIds: [limit.id, other.id],
          message: clash,
          possible: 'Ask your teacher which one counts.',
        });
    }
  }
  const impossible = findImpossiblePair(limits);
  return impossible ? [...conflicts, impossible] : conflicts;
}

function findClash(left: Limit, right: Limit): string | null {
  if (left.kind === 'length' && right.kind === 'length') {
    const [[leftMin, leftMax], [rightMin, rightMax]] = [readLengthBounds(left), readLengthBounds(right)];
    const min = Math.max(leftMin ?? 0, rightMin ?? 0);
    const max = Math.min(leftMax ?? Infinity, rightMax ?? Infinity);
    return min > max
      ? `At least ${formatDuration(min)} and at most ${formatDuration(max)} cannot both be met.`
      : null;
  }
  if (left.kind === 'file-size' && right.kind === 'file-size') {
    const min = Math.max(left.minBytes ?? 0, right.minBytes ?? 0);
    const max = Math.min(left.maxBytes ?? Infinity, right.maxBytes ?? Infinity);
    return min > max
      ? `At least ${formatBytes(min)} and at most ${formatBytes(max)} cannot both be met.`
      : null;
  }
  if (left.kind === 'picture-edge' && right.kind === 'picture-edge' && left.edge === right.edge) {
    const min = Math.max(left.min ?? 0, right.min ?? 0);
    const max = Math.min(left.max ?? Infinity, right.max ?? Infinity);
    return min > max ? `At least ${min} and at most ${max} cannot both be met.` : null;
  }
  return null;
}

const RATE = 25;
const SOUND_BPS = 48_000;
const leastBps = (lines: number) => lines * lines * (16 / 9) * RATE * LEAST_BITS_PER_PIXEL + SOUND_BPS;

/**
 * "10 minutes at 1080 lines in 5 MB": what the least length at the least picture needs, against the bytes
 * allowed.
 */
function findImpossiblePair(limits: readonly Limit[]): Conflict | null {
  const length = limits.find(
    (limit): limit is LimitOf<'length'> =>
      limit.kind === 'length' && limit.appliesTo !== 'sound' && readLengthBounds(limit)[0] !== null,
  );
  const size = limits
    .filter(
      (limit): limit is LimitOf<'file-size'> =>
        limit.kind === 'file-size' &&
        limit.maxBytes !== null &&
        (limit.appliesTo === 'any' || limit.appliesTo === 'video'),
    )
    .sort((left, right) => (left.maxBytes ?? 0) - (right.maxBytes ?? 0))[0];
  if (!length || !size?.maxBytes) return null;
  const minUs = readLengthBounds(length)[0] ?? 0;
  const edge = limits
    .filter(
      (limit): limit is LimitOf<'picture-edge'> =>
        limit.kind === 'picture-edge' &&
        limit.min !== null &&
        limit.appliesTo !== 'photo' &&
        (limit.edge === 'lines' || limit.edge === 'height' || limit.edge === 'short'),
    )
    .sort((left, right) => (right.min ?? 0) - (left.min ?? 0))[0];
  const isPicture =
    edge !== undefined || !limits.some((limit) => limit.kind === 'format' && limit.appliesTo === 'sound');
  const lines = edge?.min ?? 240;
  const needsBytes = ((isPicture ? leastBps(lines) : SOUND_BPS) * minUs) / 8e6;
  if (needsBytes <= size.maxBytes) return null;
  const atMostUs = (size.maxBytes * 8e6) / leastBps(lines);
  const smaller = [720, 540, 480, 360, 240].find(
    (each) => each < lines && (leastBps(each) * minUs) / 8e6 <= (size.maxBytes ?? 0),
  );
  const offers = [
    atMostUs >= 1e6 ? `at most ${formatDuration(atMostUs, 0)} at ${lines} lines` : '',
    smaller ? `${formatDuration(minUs)} at ${smaller} lines` : '',
    `or ask for ${formatBytes(Math.ceil(needsBytes * 1.02))}`,
  ].filter(Boolean);
  return {
    limitIds: [length.id, size.id, ...(edge ? [edge.id] : [])],
    message: `${formatDuration(minUs)}${edge ? ` at ${lines} lines` : ''} does not fit in ${formatBytes(size.maxBytes)}: about ${formatBytes(Math.ceil(needsBytes))} is the least.`,
    possible: `Possible: ${offers.join(', ')}.`,
  };
}
