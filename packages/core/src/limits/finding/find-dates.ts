/**
 * A day that a text names, with a time of day where one stands beside it. Positions are those of the text.
 */
export interface FoundDate {
  readonly start: number;
  readonly end: number;
  /** `2027-03-05`. */
  readonly day: string;
  /** `16:00`; null where none is told. */
  readonly time: string | null;
  /** The day where day and month are the other way round, if that could be meant; else null. */
  readonly otherDay: string | null;
}

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'] as const;
const MONTH =
  '(jan(?:uary|\\.)?|feb(?:r?u?ary|\\.)?|mar(?:ch|\\.)?|apr(?:il|\\.)?|may|june?\\.?|july?\\.?|aug(?:ust|\\.)?|sept?(?:ember|\\.)?|oct(?:ober|\\.)?|nov(?:ember|\\.)?|dec(?:ember|\\.)?)(?![a-z])';
const WEEKDAY =
  '(?:(?:mon|tues?|wed(?:nes)?|thu(?:rs?)?|fri|sat(?:ur)?|sun)(?:day|\\.)?(?![a-z])(?: (?:the|morning|afternoon|evening|night))?[ ,]*)';
const ORDINALS =
  'first second third fourth fifth sixth seventh eighth ninth tenth eleventh twelfth thirteenth fourteenth fifteenth sixteenth seventeenth eighteenth nineteenth twentieth'.split(
    ' ',
  );
const DAY = '(\\d{1,2})(?:st|nd|rd|th)?(?![\\d:])';
const YEAR = '(?:[ ,]+((?:19|20)\\d\\d)(?![\\d:]))?';

const TIME =
  "(?:(\\d{1,2})(?:[:.](\\d\\d))? *(am|pm)(?![a-z])|(\\d{1,2})[:h.](\\d\\d)(?: ?(?:hours|hrs|h))?(?![\\d/])|(noon|midday|midnight)(?![a-z])|(\\d{1,2}) o'?clock|([a-z]+|\\d{1,2})(?::(\\d\\d))? in the (morning|afternoon|evening)|([01]\\d|2[0-3])([0-5]\\d) (?:hours|hrs|h)(?![a-z])|half past ([a-z]+|\\d{1,2})(?: in the (morning|afternoon|evening))?)";
const TIME_AFTER = new RegExp(
  `^(?:[ ,(-]|at|by|before|b4|until|till|no later than|@|around|and|not later than|latest|in the evening)*(?<![a-z0-9])${TIME}`,
);
const TIME_BEFORE = new RegExp(
  `(?<![\\d:.])${TIME}(?:, not [\\d:.]+ ?(?:am|pm)?,|[ ,(-]|on|of|the|this|that|next|in the (?:morning|afternoon|evening))*$`,
);
const HOURS = 'one two three four five six seven eight nine ten eleven twelve'.split(' ');

/** Words of one side of the Atlantic, for dates such as 3/4. */
const MONTH_FIRST =
  /\b(?:colors?|grade|graded|grades|semester|gym|math|hallway|principal|theater|center|pts|period|varsity|1st period|\d(?:st|nd|rd|th) (?:grade|period)|room \d+)\b/g;
const DAY_FIRST =
  /\b(?:colours?|marks|year \d+|maths|centre|half ?- ?term|pupils?|theatre|practise|favourite|organise|sixth form|term \d)\b/g;

/**
 * Days by date: `Friday, March 5`, `8 March 2027`, `2027-02-26 17:00`, `3/19`. A day without a year is the
 * next one after `now` (`2026-11-24T09:00`). In `3/4` the words of the text say which is the month, else the
 * order of the place (`isMonthFirstHere`), and the other day is told too.
 */
export function findDates(cleaned: string, now: string, isMonthFirstHere = false): FoundDate[] {
  const found: FoundDate[] = [];
  const isFree = (start: number, end: number) => !found.some((each) => each.start < end && each.end > start);
  const add = (
    match: RegExpMatchArray,
    day: number,
    month: number,
    year: string | undefined,
    isAmbiguous = false,
  ) => {
    const start = match.index ?? 0;
    const end = start + match[0].replace(/[ ,]+$/, '').length;
    const iso = writeDay(day, month, year, now);
    if (iso === null || !isFree(start, end)) return;
    const otherDay = isAmbiguous ? writeDay(month, day, year, now) : null;
    found.push({ ...widenByTime(cleaned, start, end), day: iso, otherDay });
  };
  for (const match of cleaned.matchAll(/(?<![\d-])(20\d\d)-(\d\d)-(\d\d)(?!\d)/g))
    add(match, Number(match[3]), Number(match[2]), match[1]);
  const named = (pattern: string) => cleaned.matchAll(new RegExp(`(?<![a-z0-9])${pattern}`, 'g'));
  for (const match of named(
    `${WEEKDAY}?${MONTH}\\.? (?:the )?${DAY}(?! ?(?:am|pm|%|mb|minutes?|seconds?|points?)\\b)${YEAR}`,
  ))
    add(match, Number(match[2]), readMonth(match[1]), match[3]);
  for (const match of named(`${WEEKDAY}?(?:the )?${DAY} (?:day )?(?:of )?${MONTH}${YEAR}`))
    if (
      !/^\d+ (?:may|mar)\b/.test(match[0]) ||
      !/ may (?:be|not|also|use|send|have|hand|upload|submit)\b/.test(
        cleaned.slice(match.index, match.index + 24),
      )
    )
      add(match, Number(match[1]), readMonth(match[2]), match[3]);
  for (const match of named(
    `${WEEKDAY}?(?:the )?(${ORDINALS.join('|')}|twenty[ -](?:${ORDINALS.slice(0, 9).join('|')})|thirtieth|thirty[ -]first) (?:day )?(?:of )?${MONTH}${YEAR}`,
  ))
    add(match, readOrdinal(match[1] ?? ''), readMonth(match[2]), match[3]);
  for (const match of named(`(20\\d\\d),? ${MONTH} ${DAY}`))
    add(match, Number(match[3]), readMonth(match[2]), match[1]);
  const [months, days] = [MONTH_FIRST, DAY_FIRST].map((words) => cleaned.match(words)?.length ?? 0) as [
    number,
    number,
  ];
  const isMonthFirst = months === days ? isMonthFirstHere : months > days;
  for (const match of cleaned.matchAll(
    /(?<![\d/.:,-])(\d{1,2})([/.-])(\d{1,2})(?:\2((?:20)?\d\d))?(?![\d/:%]|[.,-]\d| ?(?:mb|gb|kb|minutes?|mins?|seconds?|secs?|am|pm|s\b|x\b|time|sec|pages?|inch|fps|pieces?|cm|points?|marks?))/g,
  )) {
    const [first, second] = [Number(match[1]), Number(match[3])];
    const year = match[4] === undefined ? undefined : match[4].length === 2 ? `20${match[4]}` : match[4];
    // "1/4 inch", "3-5", "2.5" are no dates: without a year only a slash, and a word before it that dates
    // follow.
    const before = cleaned.slice(Math.max(0, match.index - 24), match.index);
    if (
      year === undefined &&
      (match[2] !== '/' ||
        !/(?:\b(?:by|on|due|before|until|till|deadline|closes?|date|is|mon|tue|tues|wed|thu|thur|thurs|fri|sat|sun|monday|tuesday|wednesday|thursday|friday|saturday|sunday|to|than|from)[ ,:(]*(?:the )?)$/.test(
          before,
        ))
    )
      continue;
    const isMonthThen = second > 12 || (first <= 12 && isMonthFirst);
    if (first > 31 || second > 31 || (first > 12 && second > 12)) continue;
    add(
      match,
      isMonthThen ? second : first,
      isMonthThen ? first : second,
      year,
      first <= 12 && second <= 12 && first !== second,
    );
  }
  return found.sort((left, right) => left.start - right.start);
}

function readOrdinal(word: string): number {
  const tens =
    word.startsWith('twenty ') || word.startsWith('twenty-') ? 20 : word.startsWith('thirty') ? 30 : 0;
  if (word === 'thirtieth') return 30;
  return tens + ORDINALS.indexOf(word.split(/[ -]/).at(-1) ?? '') + 1;
}

const readMonth = (word = '') => MONTHS.indexOf(word.slice(0, 3) as (typeof MONTHS)[number]) + 1;

/** The day in the year that was told, else the next one from `now` on; null where there is no such day. */
function writeDay(day: number, month: number, year: string | undefined, now: string): string | null {
  if (month < 1 || month > 12 || day < 1 || day > 31) return null;
  const write = (of: string) => `${of}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
  const ownYear = now.slice(0, 4);
  const chosen = year ?? (write(ownYear) >= now.slice(0, 10) ? ownYear : String(Number(ownYear) + 1));
  const iso = write(chosen);
  const date = new Date(`${iso}T00:00:00Z`);
  return !Number.isNaN(date.getTime()) && date.toISOString().slice(0, 10) === iso ? iso : null;
}

/** The time of day just before or after a date, with the stretch of both. */
function widenByTime(
  cleaned: string,
  start: number,
  end: number,
): { start: number; end: number; time: string | null } {
  const after = TIME_AFTER.exec(cleaned.slice(end, end + 60));
  if (after) {
    const time = readTime(after.slice(1));
    if (time !== null) return { start, end: end + after[0].length, time };
  }
  const from = Math.max(0, start - 40);
  const before = TIME_BEFORE.exec(cleaned.slice(from, start));
  const time = before ? readTime(before.slice(1)) : null;
  return before && time !== null ? { start: from + before.index, end, time } : { start, end, time: null };
}

function readTime(groups: readonly (string | undefined)[]): string | null {
  const [h12, m12, half, h24, m24, word, oclock, hIn, mIn, part, military, militaryMin, past, pastPart] =
    groups;
  const write = (hour: number, minute: number) =>
    hour <= 23 && minute <= 59 ? `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}` : null;
  const toHalf = (hour: number, isAfternoon: boolean) => (hour % 12) + (isAfternoon ? 12 : 0);
  if (h12 !== undefined)
    return Number(h12) > 12
      ? write(Number(h12), Number(m12 ?? 0))
      : write(toHalf(Number(h12), half === 'pm'), Number(m12 ?? 0));
  if (h24 !== undefined) return write(Number(h24), Number(m24));
  if (word !== undefined) return word === 'midnight' ? '23:59' : '12:00';
  // Schools hand in by day.
  if (oclock !== undefined) return write(toHalf(Number(oclock), Number(oclock) < 8), 0);
  if (hIn !== undefined) {
    const hour = HOURS.indexOf(hIn) + 1 || Number(hIn);
    return hour > 0 ? write(toHalf(hour, part !== 'morning'), Number(mIn ?? 0)) : null;
  }
  if (military !== undefined) return write(Number(military), Number(militaryMin));
  if (past !== undefined) {
    const hour = HOURS.indexOf(past) + 1 || Number(past);
    return Number.isInteger(hour) && hour > 0
      ? write(toHalf(hour, pastPart ? pastPart !== 'morning' : hour < 8), 30)
      : null;
  }
  return null;
}
