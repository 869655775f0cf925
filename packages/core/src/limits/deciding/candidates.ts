import type { MediaKind } from '../../media/containers.ts';
import { cleanText } from '../finding/clean-text.ts';
import type { CueMark } from '../finding/cues.ts';
import { dutch } from '../finding/dutch.ts';
import { english } from '../finding/english.ts';
import { findLexicon, glossText, glossTokens } from '../finding/gloss.ts';
import { findDates, type FoundDate } from '../finding/find-dates.ts';
import { findMentions, type HandedKind, type Mention } from '../finding/find-mentions.ts';

export type { HandedKind };
import { readItems } from '../finding/quantities.ts';
import { readSentences, type Sentence } from '../finding/sentences.ts';
import { createMender, readTokens } from '../finding/tokens.ts';
import { readBounded, type Bounded } from './bounds.ts';
import { readHeading, readTextContext, type TextContext } from './context.ts';
import { describeQuantity } from './quantity-features.ts';
import { readRelativeDates, type DateMatch } from './read-dates.ts';
import { describeKind, NOTHING, rememberCues } from './slot-features.ts';

/** A text with all that was found in it, before anything is decided. */
export interface FoundText {
  readonly text: string;
  readonly cleaned: string;
  /** Name of the language on trial that it was read as; null for English. */
  readonly trial: string | null;
  readonly sentences: readonly Sentence[];
  readonly context: TextContext;
  readonly days: readonly FoundDate[];
  readonly relative: readonly DateMatch[];
  readonly mentions: readonly Mention[];
  readonly cuesOf: (sentence: number) => readonly CueMark[];
  /** What kind of medium a heading says that a sentence is about. */
  readonly headings: readonly (MediaKind | null)[];
  readonly quantities: readonly FoundQuantity[];
}

/** A figure with its unit and bound, and what can be said of it. */
export interface FoundQuantity {
  readonly sentence: number;
  readonly bounded: Bounded;
  readonly features: readonly string[];
}

/** A kind that might be to be handed in, and what can be said of it. */
export interface FoundKind {
  readonly kind: HandedKind;
  readonly features: readonly string[];
}

const mend = createMender(english);
/** Languages on trial. */
const LEXICONS = [dutch];

/** Finds figures, days, kinds of item and cues. `now` (wall clock) is what "tomorrow" is counted from. */
export function findInText(text: string, now: string | null, isMonthFirst = false): FoundText {
  const own = cleanText(text);
  const lexicon = findLexicon(own, LEXICONS);
  const cleaned = lexicon ? glossText(own, lexicon) : own;
  const days = findDates(cleaned, now ?? '2000-01-01T00:00', isMonthFirst);
  const relative = now === null || days.length > 0 ? [] : readRelativeDates(cleaned, now);
  const dates: readonly { readonly start: number; readonly end: number }[] =
    days.length > 0 ? days : relative;
  const masked = dates.reduce(
    (line, date) =>
      `${line.slice(0, date.start)}§${' '.repeat(date.end - date.start - 1)}${line.slice(date.end)}`,
    cleaned,
  );
  const tokens = lexicon ? glossTokens(readTokens(masked, String), lexicon) : readTokens(masked, mend);
  const sentences = readSentences(readItems(tokens, english), text, english);
  const ofWords = readTextContext(sentences, english);
  const mentions = findMentions(sentences, english, ofWords.recording === 'sound' ? 'sound' : 'video');
  const named = mentions.flatMap(({ kind }) => (kind === 'text' || kind === 'link' ? [] : [kind]));
  const context: TextContext = { ...ofWords, kinds: new Set([...ofWords.kinds, ...named]) };
  const cuesOf = rememberCues(sentences);
  let heading: MediaKind | null = null;
  const headings = sentences.map((sentence) => {
    if (sentence.isNewParagraph) heading = null;
    heading = readHeading(sentence, context) ?? heading;
    return heading;
  });
  const kinds = new Set(mentions.map(({ kind }) => kind));
  const all = sentences.flatMap((sentence, at) =>
    readBounded(sentence).map((bounded) => ({ sentence: at, bounded })),
  );
  const isNothingAsked = sentences.some(({ tag }) => NOTHING.test(tag));
  const counts = new Map<string, number>();
  for (const { bounded } of all) {
    const unit = bounded.item.dimension ?? '';
    counts.set(unit, (counts.get(unit) ?? 0) + 1);
  }
  const seen = new Map<string, number>();
  const quantities = all.map(({ sentence, bounded }): FoundQuantity => {
    const unit = bounded.item.dimension ?? '';
    const at = seen.get(unit) ?? 0;
    seen.set(unit, at + 1);
    const own = sentences[sentence];
    const isModelled = (unit === 'duration' || unit === 'bytes') && own !== undefined;
    const place = {
      isNothingAsked,
      count: counts.get(unit) ?? 1,
      at,
      heading: headings[sentence] ?? null,
      kinds,
    };
    return {
      sentence,
      bounded,
      features: isModelled ? describeQuantity(bounded, own, cuesOf(sentence), place) : [],
    };
  });
  const trial = lexicon?.name ?? null;
  return {
    ...{ text, cleaned, trial, sentences, context, days, relative, mentions, cuesOf, headings, quantities },
  };
}

/** Every kind that a text speaks of. */
export function listKinds({ mentions, sentences, cuesOf }: FoundText): FoundKind[] {
  return [...new Set(mentions.map(({ kind }) => kind))].map((kind) => ({
    kind,
    features: describeKind(kind, mentions, sentences, cuesOf),
  }));
}
