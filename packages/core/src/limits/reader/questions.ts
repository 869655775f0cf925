import type { Doubt, FoundLimit, RawLimit } from '../deciding/found.ts';
import type { Answers } from '../answers.ts';
import { Limit } from '../limit.ts';
import { describeLimit } from '../table.ts';

/** One way to understand some words. */
export interface Reading {
  /** "Length at most 3:00"; "Not about what is handed in". */
  readonly label: string;
  /** The limit that it is; null where it is none. */
  readonly limit: Limit | null;
}

/** Words that can be understood in two ways, for a person to choose. */
export interface Question {
  /** The same for as long as the words and what they could mean stay the same. */
  readonly id: string;
  readonly start: number;
  readonly end: number;
  readonly words: string;
  /** "Is this about what you hand in?" */
  readonly asks: string;
  /** Two, the likelier one first. */
  readonly readings: readonly [Reading, Reading];
  /** Which reading a person chose; null while it is open. */
  readonly answer: 0 | 1 | null;
  /** The likelier reading counts while it is open: a day is better than none. */
  readonly isCounted: boolean;
}

const ASKED: Readonly<Partial<Record<RawLimit['kind'], string>>> = {
  length: 'Is this how long it may be?',
  'file-size': 'Is this how large the file may be?',
};
const KIND_WORDS: Readonly<Record<string, string>> = {
  ...{ any: 'every file', video: 'the video', sound: 'the sound', photo: 'photographs' },
  document: 'the document',
};

function writeQuestion({ about, other }: Doubt, raw: RawLimit): string {
  if (about === 'due') return 'Is this when it is due?';
  if (about === 'day') return 'Which day is meant?';
  if (about === 'which') return `Is this for ${KIND_WORDS[String(other?.appliesTo)] ?? 'one of them'} alone?`;
  return ASKED[raw.kind] ?? 'Is this about what you hand in?';
}

/**
 * Divides what was found into what counts and what a person is asked. What was answered counts as answered;
 * what is open counts for nothing, but for days, and is not asked where the same is said for sure elsewhere.
 */
export function settleDoubts<F extends FoundLimit>(
  found: readonly F[],
  answers: Answers,
  text: string,
): { readonly counted: F[]; readonly questions: Question[] } {
  const sure = found.filter(({ doubt }) => doubt === undefined);
  const questions = new Map<string, Question>();
  const counted = found.flatMap((each) => {
    const { doubt, start, end, raw } = each;
    if (doubt === undefined) return [each];
    // What takes an earlier limit back is about the same thing.
    const takesBack = each.isCorrection && sure.some((other) => other.raw.kind === raw.kind);
    if (takesBack || sure.some((other) => isCoveredBy(raw, other.raw))) return [each];
    const words = text.slice(start, end).replace(/\s+/g, ' ').trim().slice(0, 200);
    const readings = [readAs(each, raw, doubt), readAs(each, doubt.other, doubt)] as const;
    if (readings[0].limit === null) return [];
    const id = `${doubt.about}:${raw.kind}:${words.toLowerCase()}`;
    const answer = Object.hasOwn(answers, id) ? (answers[id] ?? null) : null;
    // Of two days one counts meanwhile, and what may be for every file holds for every file.
    const isCounted = doubt.about === 'day' || doubt.about === 'which';
    const asks = writeQuestion(doubt, raw);
    questions.set(id, { id, start, end, words, asks, readings, answer, isCounted });
    if (answer === 1) return doubt.other === null ? [] : [{ ...each, raw: doubt.other }];
    return answer === 0 || isCounted ? [each] : [];
  });
  return { counted, questions: [...questions.values()].sort((left, right) => left.start - right.start) };
}

function readAs({ severity }: FoundLimit, raw: RawLimit | null, { about }: Doubt): Reading {
  if (raw === null) return { label: 'No, it is about something else', limit: null };
  const parsed = Limit.safeParse({ id: 'read', severity, ...raw });
  if (!parsed.success) return { label: '', limit: null };
  const { label, wanted } = describeLimit(parsed.data);
  const target = about === 'which' ? `, for ${KIND_WORDS[parsed.data.appliesTo] ?? ''}` : '';
  return { label: `${label} ${wanted}${target}`, limit: parsed.data };
}

/** The same thing is asked for at least as sharply: nothing would change by asking. */
function isCoveredBy(doubtful: RawLimit, sure: RawLimit): boolean {
  const fields = Object.entries(doubtful).filter(
    ([field, value]) => value !== null && field !== 'isAmbiguous' && field !== 'isAbout',
  );
  return fields.every(([field, value]) => sure[field] === value);
}
