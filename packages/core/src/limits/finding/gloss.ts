import type { Token } from './tokens.ts';

/** A language beside English, as what its words are in English; read as a trial. */
export interface Lexicon {
  readonly id: 'nl';
  /** "Dutch" */
  readonly name: string;
  /** Words that hardly stand in an English text. */
  readonly tellTale: readonly string[];
  /** Words and phrases in lower case with what they are in English; the longest that fits counts. */
  readonly phrases: Readonly<Record<string, string>>;
}

/** Fewer telltale words than this tell no language. */
const LEAST_TELLING = 2;
const ENGLISH = ['the', 'and', 'your', 'you', 'with', 'must', 'should', 'file', 'please', 'no', 'not'];

/** The language that most words of a cleaned text belong to; null for English and whatever is not known. */
export function findLexicon(cleaned: string, lexicons: readonly Lexicon[]): Lexicon | null {
  const words = cleaned.slice(0, 4000).match(/\p{L}+/gu) ?? [];
  const countOf = (list: readonly string[]) => words.filter((word) => list.includes(word)).length;
  const english = countOf(ENGLISH);
  return (
    lexicons.find(({ tellTale }) => {
      const count = countOf(tellTale);
      return count >= LEAST_TELLING && count > english;
    }) ?? null
  );
}

/**
 * The text with every phrase in English whose English is no longer than itself, padded: positions stay what
 * they were. What is read from signs alone (days, times) is read in this.
 */
export function glossText(cleaned: string, { phrases }: Lexicon): string {
  const fitting = Object.entries(phrases)
    .filter(([phrase, english]) => english.length <= phrase.length)
    .sort(([one], [other]) => other.length - one.length);
  const pattern = new RegExp(
    `(?<![\\p{L}\\p{N}])(?:${fitting.map(([phrase]) => phrase.replace(/ /g, ' +')).join('|')})(?![\\p{L}\\p{N}])`,
    'gu',
  );
  const english = new Map(fitting);
  return cleaned.replace(pattern, (match) =>
    (english.get(match.replace(/ +/g, ' ')) ?? match).padEnd(match.length),
  );
}

/** Tokens with the phrases that are longer in English; each word has the place of its phrase. */
export function glossTokens(tokens: readonly Token[], { phrases }: Lexicon): Token[] {
  const longest = Math.max(...Object.keys(phrases).map((phrase) => phrase.split(' ').length));
  const glossed: Token[] = [];
  for (let at = 0; at < tokens.length;) {
    const found = findPhrase(tokens, at, longest, phrases);
    if (!found) {
      glossed.push(tokens[at] as Token);
      at += 1;
      continue;
    }
    const [first, last] = [tokens[at] as Token, tokens[at + found.count - 1] as Token];
    for (const [index, text] of found.english.split(' ').entries())
      glossed.push({
        kind: 'word',
        start: first.start,
        end: last.end,
        text,
        isGlued: index === 0 && first.isGlued,
      });
    at += found.count;
  }
  return glossed;
}

function findPhrase(
  tokens: readonly Token[],
  at: number,
  longest: number,
  phrases: Readonly<Record<string, string>>,
): { english: string; count: number } | null {
  for (let count = longest; count > 0; count -= 1) {
    const part = tokens.slice(at, at + count);
    if (part.length < count || part.some(({ kind }) => kind !== 'word')) continue;
    const english = phrases[part.map(({ text }) => text).join(' ')];
    if (english !== undefined && Object.hasOwn(phrases, part.map(({ text }) => text).join(' ')))
      return { english, count };
  }
  return null;
}
