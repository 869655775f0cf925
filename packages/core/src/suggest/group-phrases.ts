import type { Phrase } from './find-phrases.ts';
import { LOOKS_PER_SECOND } from './sound-looks.ts';

/** The phrases that are the performance, as one stretch. */
export interface PhraseGroup {
  readonly from: number;
  readonly to: number;
  /** Whether nothing in it sounds as the subject does. */
  readonly isGuess: boolean;
  readonly isTuned: boolean;
  readonly isApplauded: boolean;
  /** Whether something else begins where it ends, so that it does not die away into silence. */
  readonly isCutOff: boolean;
  readonly confidence: number;
}

/** Longest silence inside a performance. */
const PAUSE_S = { music: 5, drama: 7 } as const;
/** A note that is shorter, alone, and of one pitch is something that fell, or a step. */
const LEAST_NOTE_S = 0.3;
/** Tuning: long notes of very few pitches, before a beginning whose notes are shorter. */
const TUNED_PITCHES = 2;
/** Less than this is no tuning, but how a piece begins. */
const LEAST_TUNED_S = 2.5;
const TUNED_NOTE_S = 0.55;
const SHORTER = 0.75;
const seconds = ({ from, to }: Pick<Phrase, 'from' | 'to'>) => (to - from) / LOOKS_PER_SECOND;

/** Picks the performance out of all phrases of a take; null where there is none. */
export function groupPhrases(phrases: readonly Phrase[], subject: 'music' | 'drama'): PhraseGroup | null {
  const own = phrases.filter((phrase) => (subject === 'music' ? isMusical(phrase) : isSpoken(phrase)));
  const isFallback = own.length === 0;
  // Drums hold no pitch, and whispers have no voice: the most of what there is, and not surely.
  const used = isFallback ? phrases.filter(({ kind }) => kind !== 'applause') : own;
  const groups = joinNear(used, PAUSE_S[subject] * LOOKS_PER_SECOND);
  if (groups.length === 0) return null;
  const weigh = (group: readonly Phrase[]) =>
    group.reduce((sum, phrase) => sum + weighPhrase(phrase, subject), 0);
  const [main = [], second] = [...groups].sort((left, right) => weigh(right) - weigh(left));
  const { kept, isTuned, isDoubtful } = subject === 'music' ? dropTuning(main) : doubtEnds(main);
  const [first] = kept;
  const last = kept.at(-1);
  if (!first || !last) return null;
  const rival = second ? weigh(second) / Math.max(1e-9, weigh(main)) : 0;
  const confidence =
    (isFallback ? 0.3 : 1) * (isDoubtful ? 0.4 : 1) * Math.max(0, Math.min(1, 1.25 - 1.6 * rival));
  const isApplauded = phrases.some(
    ({ kind, from }) => kind === 'applause' && from >= last.to && from - last.to < 4 * LOOKS_PER_SECOND,
  );
  return {
    from: first.from,
    to: last.to,
    isTuned,
    isGuess: isFallback,
    isApplauded,
    isCutOff: phrases.some(({ from }) => from >= last.to && from - last.to < 8),
    confidence: Math.min(1, confidence),
  };
}

const isMusical = (phrase: Phrase) => phrase.kind === 'notes' && seconds(phrase) >= LEAST_NOTE_S;
const isSpoken = (phrase: Phrase) =>
  phrase.kind === 'voice' || (phrase.kind === 'notes' && seconds(phrase) >= LEAST_NOTE_S);

/** Longer, and of more pitches, counts more; how loud it is counts little. */
const weighPhrase = (phrase: Phrase, subject: 'music' | 'drama') =>
  seconds(phrase) * (subject === 'music' ? Math.min(6, 0.5 + phrase.pitches) : 1);

function joinNear(phrases: readonly Phrase[], gap: number): Phrase[][] {
  const groups: Phrase[][] = [];
  for (const phrase of phrases) {
    const last = groups.at(-1);
    const end = last?.at(-1)?.to ?? 0;
    if (last && phrase.from - end <= gap) last.push(phrase);
    else groups.push([phrase]);
  }
  return groups;
}

interface Trimmed {
  readonly kept: readonly Phrase[];
  readonly isTuned: boolean;
  /** Whether what was left out might have belonged to it. */
  readonly isDoubtful: boolean;
}

/** Leaves out long notes that are tried again before the first phrase that really is of the piece. */
function dropTuning(group: readonly Phrase[]): Trimmed {
  const isTuning = (phrase: Phrase) => phrase.pitches <= TUNED_PITCHES && phrase.noteS >= TUNED_NOTE_S;
  const real = group.findIndex((phrase) => !isTuning(phrase));
  if (real <= 0) return { kept: group, isTuned: false, isDoubtful: real < 0 && group.length > 1 };
  const [first] = group.slice(real);
  const before = group.slice(0, real);
  if (before.reduce((sum, phrase) => sum + seconds(phrase), 0) < LEAST_TUNED_S)
    return { kept: group, isTuned: false, isDoubtful: false };
  const isShorter = before.every((phrase) => (first?.noteS ?? 0) < phrase.noteS * SHORTER);
  // A breath before the beginning tells tuning from a slow one.
  const gapS = ((first?.from ?? 0) - (before.at(-1)?.to ?? 0)) / LOOKS_PER_SECOND;
  if (!isShorter || gapS < 0.6) return { kept: group, isTuned: false, isDoubtful: true };
  return { kept: group.slice(real), isTuned: true, isDoubtful: false };
}

/** A single short sound far from the others at an end may be a cough. */
function doubtEnds(group: readonly Phrase[]): Trimmed {
  const isOdd = (phrase: Phrase | undefined, gap: number) =>
    phrase !== undefined && seconds(phrase) < 0.3 && gap > 2.5 * LOOKS_PER_SECOND;
  const [first, second] = group;
  const [before, last] = [group.at(-2), group.at(-1)];
  const isDoubtful =
    group.length > 1 &&
    (isOdd(first, (second?.from ?? 0) - (first?.to ?? 0)) ||
      isOdd(last, (last?.from ?? 0) - (before?.to ?? 0)));
  return { kept: group, isTuned: false, isDoubtful };
}
