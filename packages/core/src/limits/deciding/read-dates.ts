import type { ParsedResult } from 'chrono-node';
// English alone: all languages together are half of what every process of Apodix loads at its start.
import { GB } from 'chrono-node/en';

export interface DateMatch {
  /** `2026-11-27T16:00`, wall clock. */
  readonly at: string;
  readonly hasTime: boolean;
  readonly start: number;
  readonly end: number;
}

const DUE =
  /\b(?:due|deadline|dead line|hand(?:ed)?(?: \w+){0,3} in|submit(?:ted)?|upload(?:ed)?|turn(?:ed)? in|closes?|closing|no later than|not later than|on or before|send (?:it|them)|moved|extended|extension|have until|expires?)\b/;
const JOINING =
  /\b(?:due|deadline|by|before|on|until|till|no later than|not later than|closes?|latest|for|is|to|at|extended|moved|:)\s*(?:the |this |next |coming |midnight |noon |it to |now |be |12 |in by |in on |end of )*$/;
const NOT_A_DATE =
  /^(?:now|today|tonight|this (?:morning|term|year|week|month)|\d{1,3}|second|seconds?|(?:a|an|one|two|\d+(?:\.\d+)?) (?:second|minute|hour)s?|may|sun|sat|mar|march)$/i;

/** "9 am on the 4th": a time of day that stands by itself just before or after a day. */
function findTimeBeside(results: readonly ParsedResult[], index: number, sentence: string): string | null {
  const day = results[index];
  if (!day || day.start.isCertain('hour')) return null;
  for (const other of [results[index - 1], results[index + 1]]) {
    if (
      !other ||
      !other.start.isCertain('hour') ||
      other.start.isCertain('day') ||
      other.start.isCertain('weekday')
    )
      continue;
    const between =
      other.index < day.index
        ? sentence.slice(other.index + other.text.length, day.index)
        : sentence.slice(day.index + day.text.length, other.index);
    if (/^[\s,]*(?:on|at|by)?\s*(?:the)?\s*$/.test(between))
      return other.start.date().toISOString().slice(11, 16);
  }
  return null;
}

/** What stands before a day without a time of day that belongs to it: "by 9 am on the " → "by ". */
const stripTime = (before: string) =>
  before.replace(
    /\b(?:\d{1,2}(?:[:.]\d{2})?\s*(?:am|pm)?|noon|midnight|midday)\s*,?\s*(?:on\s*)?(?:the\s*)?$/,
    (time) => (/am|pm|noon|mid|[:.]/.test(time) ? '' : time),
  );
const joinTime = (at: string, time: string | null) => (time === null ? at : `${at.slice(0, 11)}${time}`);

/**
 * Due times: a date that follows words such as "due", "by" or "deadline". Read against `now` (wall clock,
 * `2026-11-24T09:00`),
 * always forward. A date without a time counts until the end of that day.
 */
export function readRelativeDates(cleaned: string, now: string): DateMatch[] {
  const reference = new Date(`${now}:00Z`);
  const found: DateMatch[] = [];
  let from = 0;
  let last = '';
  for (const sentence of cleaned.split(/(?<=[.!?\n;])(?=\s|$)/)) {
    const start = from;
    from += sentence.length;
    const isOfDue =
      DUE.test(sentence) ||
      (/\b(?:deadline|due|hand in|closing)\b/.test(last) &&
        /\b(?:now|moved|changed|instead|new|it is|it's)\b/.test(sentence));
    last = sentence;
    if (sentence.length > 600 || (!isOfDue && !/\b(?:by|no later than) /.test(sentence))) continue;
    const results = GB.parse(sentence, { instant: reference, timezone: 0 }, { forwardDate: true });
    for (const [index, result] of results.entries()) {
      const before = sentence.slice(0, result.index);
      const isDated =
        result.start.isCertain('day') ||
        result.start.isCertain('weekday') ||
        (result.start.isCertain('hour') && /tomorrow|tonight|today/.test(result.text));
      if (
        NOT_A_DATE.test(result.text.trim()) ||
        !(isDated || /tomorrow|next|in (?:a|two|three|\d+) (?:days?|weeks?)/.test(result.text)) ||
        !/tomorrow|tonight|next|week|day/.test(result.text) ||
        !(isOfDue
          ? JOINING.test(stripTime(before)) || (result.end && /\bfrom (?:the )?$/.test(before))
          : /\b(?:by|no later than) (?:the |this |next |coming )*$/.test(stripTime(before)))
      )
        continue;
      const isMoved =
        result.end !== null && result.end !== undefined && /\b(?:moved|changed|extended|from)\b/.test(before);
      const when = isMoved && result.end ? result.end : result.start;
      const at = joinTime(when.date().toISOString().slice(0, 16), findTimeBeside(results, index, sentence));
      // "Midnight on Sunday" is when Sunday ends.
      const isMidnight = /midnight/.test(
        sentence.slice(Math.max(0, result.index - 14), result.index + result.text.length),
      );
      const hasTime =
        when.isCertain('hour') || isMidnight || findTimeBeside(results, index, sentence) !== null;
      found.push({
        at: hasTime && !isMidnight ? at : `${at.slice(0, 10)}T23:59`,
        hasTime,
        start: start + result.index,
        end: start + result.index + result.text.length,
      });
    }
  }
  return found;
}
