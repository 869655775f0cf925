import * as chrono from 'chrono-node';

export interface DateMatch {
  /** `2026-11-27T16:00`, wall clock. */
  readonly at: string;
  readonly hasTime: boolean;
  readonly start: number;
  readonly end: number;
}

const DUE = /\b(?:due|deadline|dead line|hand(?:ed)?(?: \w+){0,3} in|submit(?:ted)?|upload(?:ed)?|turn(?:ed)? in|closes?|closing|no later than|not later than|latest|on or before|send (?:it|them)|moved|extended|extension|have until|expires?)\b/;
const JOINING = /\b(?:due|deadline|by|before|on|until|till|no later than|not later than|closes?|latest|for|is|to|at|extended|moved|:)\s*(?:the |this |next |coming |midnight |noon |it to |now |be |in by |in on |end of )*$/;
const NOT_A_DATE = /^(?:now|today|tonight|this (?:morning|term|year|week|month)|\d{1,3}|second|seconds?|(?:a|an|one|two|\d+(?:\.\d+)?) (?:second|minute|hour)s?|may|sun|sat|mar|march)$/i;

/**
 * Due times: a date that follows words such as "due", "by" or "deadline". Read against `now` (wall clock, `2026-11-24T09:00`),
 * always forward. A date without a time counts until the end of that day.
 */
export function readDates(cleaned: string, now: string): DateMatch[] {
  const reference = new Date(`${now}:00Z`);
  const found: DateMatch[] = [];
  let from = 0;
  let last = '';
  for (const sentence of cleaned.split(/(?<=[.!?\n;])(?=\s|$)/)) {
    const start = from;
    from += sentence.length;
    const isOfDue = DUE.test(sentence) || (/\b(?:deadline|due|hand in|closing)\b/.test(last) && /\b(?:now|moved|changed|instead|new|it is|it's)\b/.test(sentence));
    last = sentence;
    if (sentence.length > 600 || !isOfDue) continue;
    const results = chrono.en.GB.parse(sentence, { instant: reference, timezone: 0 }, { forwardDate: true });
    for (const result of results) {
      const before = sentence.slice(0, result.index);
      const isDated = result.start.isCertain('day') || result.start.isCertain('weekday') || (result.start.isCertain('hour') && /tomorrow|tonight|today/.test(result.text));
      if (NOT_A_DATE.test(result.text.trim()) || !(isDated || /tomorrow|next|in (?:a|two|three|\d+) (?:days?|weeks?)/.test(result.text)) || !JOINING.test(before)) continue;
      const at = result.start.date().toISOString().slice(0, 16);
      // "Midnight on Sunday" is when Sunday ends.
      const isMidnight = /midnight/.test(sentence.slice(Math.max(0, result.index - 14), result.index + result.text.length));
      const hasTime = result.start.isCertain('hour') || isMidnight;
      found.push({ at: hasTime && !isMidnight ? at : `${at.slice(0, 10)}T23:59`, hasTime, start: start + result.index, end: start + result.index + result.text.length });
    }
  }
  return found;
}
