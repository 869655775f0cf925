import type { FoundDate } from '../finding/find-dates.ts';
import type { Sentence } from '../finding/sentences.ts';

export interface DueMatch {
  /** `2026-11-27T16:00`, wall clock. */
  readonly at: string;
  readonly hasTime: boolean;
  /** The same with day and month the other way round, where that could be meant; else null. */
  readonly other: string | null;
  /** Its words say that it is handed in by then, and not only that something happens then. */
  readonly isSure: boolean;
  readonly start: number;
  readonly end: number;
}

const DUE =
  /\b(?:due|deadline|dead ?line|closes?|closing|shuts?|no later than|not later than|at the latest|latest|on or before|cut ?- ?off|last (?:day|date|chance|call|possible)|final (?:day|date)|expires?|ends? on|hand(?:ed|ing)?(?: \w+){0,4} in|hand - in|turn(?:ed|ing|s)?(?: \w+){0,4} in|submi(?:t|ts|tted|ssions?)|upload(?:s|ed)?|send|sent|deliver(?:ed)?|goes? in|in by|comes? in|posted? by|reach(?:es)? (?:me|us)|accept(?:ed|ing)?|open (?:until|till)|stays? open|have until|has until|you have till|to me by|in my (?:inbox|folder)|extended|extension|moved|moves|lodged|e ?- ?mail(?:ed)?|record(?:ing)?s?|film|return|drop ?box|portal|mark what is|fixed|final|with me|must be here|get them to|get it to)\b/;
const STRONG =
  /\b(?:due|deadline|dead ?line|closes?|closing|shuts?|cut ?- ?off|no later than|not later than|latest|on or before|last (?:day|date)|open (?:until|till)|until|expires?)\b/;
const JOIN =
  /(?:\b(?:same date|b4|by|before|until|till|due|deadline|closes?|shuts?|no later than|not later than|on or before|is|on|to|for|than|latest|at|of|date)\b|[:=-])[ ,(*]*(?:the |is |now |on |by |in |at |end of |close of |midnight |noon |11:59 |12 |8 |9 )*$/;
const BY =
  /\b(?:b4|by|before|until|till|no later than|not later than|on or before|than)[ ,]*(?:the |end of |close of |of )*$/;
/** What is dated beside handing in. */
const OTHER =
  /\b(?:concert|exhibition|exhibit|degree show|fair|shows?(?:case|ing)?|performances? (?:is|are|on|will)|opens?|workshop|bus(?:es)?|trip|rehears\w+|read(?: |-)?through|screen(?:ing|ed)|premiere|gala|auditions? (?:is|are|on|will|start)|meet(?:s|ing)?|start(?:s|ing|ed)?|begin(?:s|ning)?|posted|since|feedback|results?|back to you|come home|perform(?:ed|ing)? (?:on|at)|lesson|class(?:es)? on|lecture|born|visit|festival|tournament|match|game on|crit(?:ique)?|return(?:s|ed)? to|marks? (?:are|will)|handed back|watch(?:ed|ing)?|play(?:ed|ing)? (?:them|it)|holiday|break|term|assembly|jury|juries|moderat\w+|hang|displayed?|interview|mock exam|exam (?:is|on)|pay|paid|fee|permission|form|slips?|tickets?|hire|booking|sign up|bring)\b/;
const PAST =
  /\b(?:was|were|said|not|originally|used to be|instead of|rather than|no longer|moved from|from|wrong|previously|board said|had been|ignore)[ ,]*(?:due |the |for |on |by )*$/;

const SURE_WORTH = 4;
const HANDS_IN =
  /\b(?:hand(?:ed|ing)?(?: \w+){0,4} in|turn(?:ed)?(?: \w+){0,4} in|submit\w*|upload\w*|due|deadline)\b/;

/** What shuts is not what takes the work in: "the hall closes on 12 February". */
const SHUTS = /\b(?:closes?|closed|shuts?|ends?)\b/;
const TAKES_IN =
  /\b(?:box|drop ?box|portal|inbox|link|form|folder|window|page|assignment|task|it|this|that|entry|entries|tray|locker|system|site|server|project|work|competition|contest|upload\w*|submission\w*|hand ?- ?in)\b/;

/** Which of the days that a text names is the one by which it is handed in; null where none is said to be. */
export function decideDue(
  dates: readonly FoundDate[],
  sentences: readonly Sentence[],
  cleaned: string,
  isCorrection: (sentence: number) => boolean,
): DueMatch | null {
  let best: { readonly date: FoundDate; readonly worth: number; readonly before: string } | null = null;
  for (const date of dates) {
    const index = sentences.findIndex((each) => each.start <= date.start && each.end >= date.start);
    const sentence = sentences[index];
    // A sentence that is a day alone has no words: it begins where the last one ends.
    const lastEnd = sentences.findLast((each) => each.end <= date.start)?.end ?? 0;
    const start = sentence?.start ?? lastEnd + (/^[\s.!?;:-]*/.exec(cleaned.slice(lastEnd))?.[0].length ?? 0);
    const end = Math.max(date.end, sentence?.end ?? date.end);
    const before = cleaned.slice(start, date.start);
    const after = cleaned.slice(date.end, end);
    const clause = before.slice(
      Math.max(
        before.lastIndexOf(', '),
        before.lastIndexOf(' but '),
        before.lastIndexOf(' and '),
        before.lastIndexOf('('),
        0,
      ),
    );
    const last = cleaned.slice(Math.max(0, start - 70), start);
    let worth = 0;
    if (JOIN.test(before) || before.trim() === '') worth += 1;
    // A line that is a day with its time, and nothing else.
    if (before.trim() === '' && date.time !== null && after.replace(/[^a-z]/g, '') === '') worth += 2;
    if (BY.test(before)) worth += 2;
    if (DUE.test(before) || DUE.test(after)) worth += 2;
    if (
      STRONG.test(before) ||
      /^[ ,]*(?:is (?:the|your) (?:deadline|last (?:day|moment|chance)|due)|at the latest|latest|deadline|or earlier|or sooner)/.test(
        after,
      )
    )
      worth += 2;
    if (
      /\b(?:deadline|due(?: date)?|when|hand ?- ?in(?: date| by)?|submission|closes)[ :.-]*$/.test(before) ||
      (before.trim() === '' && /\b(?:deadline|due|when)\b[^\n]*$/.test(last))
    )
      worth += 2;
    if (OTHER.test(clause) && !STRONG.test(clause)) worth -= 4;
    else if (OTHER.test(before) && !STRONG.test(before) && !BY.test(before)) worth -= 2;
    if (OTHER.test(after.slice(0, 24))) worth -= 1;
    if (PAST.test(before) || /^[ ,]*(?:is|was) (?:wrong|a mistake|no longer)/.test(after)) worth -= 4;
    if (isCorrection(index) && worth >= 2) worth += 5;
    if (/\b(?:it is|it's|is|are) now[ ,]*$/.test(before) && /\b(?:deadline|due|closing)\b/.test(last))
      worth += 4;
    if (worth >= 3 && (best === null || worth > best.worth || (worth === best.worth && isCorrection(index))))
      best = { date, worth, before };
  }
  if (best === null) return null;
  const { day, time, otherDay, start, end } = best.date;
  const at = (each: string) => `${each}T${time ?? '23:59'}`;
  const { before } = best;
  const isElsewhere = SHUTS.test(before) && !TAKES_IN.test(before);
  const isSure = HANDS_IN.test(before) || (best.worth >= SURE_WORTH && !isElsewhere);
  return { isSure, at: at(day), hasTime: time !== null, other: otherDay && at(otherDay), start, end };
}
