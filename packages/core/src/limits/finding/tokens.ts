import type { Language } from './language.ts';

export interface Token {
  readonly kind: 'word' | 'number' | 'sign' | 'break';
  readonly start: number;
  readonly end: number;
  /** Lower case, typing errors mended. */
  readonly text: string;
  /** Follows the token before it without a space. */
  readonly isGlued: boolean;
}

const JOINED = /(?:[hx]\.? ?26[45]|mpeg[- ]?4|e\.g\.|i\.e\.)(?![\p{L}\p{N}])/uy;
const NUMBER =
  /\d{1,3}(?: \d{3})+(?= ?(?:px|pixels?|kb|kib|kilobytes?|hz)(?![a-z]))|\d{1,3}(?:,\d{3})+(?:\.\d+)?(?!\d)|\d+(?:[.,]\d+)?[½¼¾]?|[½¼¾⅓⅔]/uy;
const WORD = /\p{L}[\p{L}\p{N}]*(?:'\p{L}+)*/uy;
const UNIT_WORD = /\p{L}+/uy;

/**
 * Divides cleaned text into words, numbers, signs and line ends. `100mb` becomes two tokens, `mp4` stays
 * one.
 */
export function readTokens(cleaned: string, mend: (word: string) => string): Token[] {
  const tokens: Token[] = [];
  for (let at = 0; at < cleaned.length;) {
    const sign = cleaned[at] ?? '';
    if (sign === ' ') {
      at += 1;
      continue;
    }
    const last = tokens.at(-1);
    const isGlued = last?.end === at;
    const add = (kind: Token['kind'], raw: string, text: string) => {
      tokens.push({ kind, start: at, end: at + raw.length, text, isGlued });
      at += raw.length;
    };
    const take = (pattern: RegExp) => {
      pattern.lastIndex = at;
      return pattern.exec(cleaned)?.[0] ?? null;
    };
    if (sign === '\n') {
      add('break', sign, '\n');
      continue;
    }
    const isAfterNumber = isGlued && last?.kind === 'number';
    const joined = isGlued && last?.kind !== 'sign' ? null : take(JOINED);
    if (joined) {
      add('word', joined, joined.replace(/[. -]/g, ''));
      continue;
    }
    const number = take(NUMBER);
    if (number && !(isGlued && last?.kind === 'word' && !isUnitLike(last.text))) {
      add('number', number, number);
      continue;
    }
    const word = take(isAfterNumber ? UNIT_WORD : WORD);
    if (word) add('word', word, mend(word));
    else add('sign', sign, sign);
  }
  return tokens;
}

function isUnitLike(word: string): boolean {
  return /^(?:m|min|mins|h|hr|p|x)$/.test(word);
}

/**
 * Mends typing errors towards the words that the reader knows: one slip in five letters or more, two in
 * nine.
 */
export function createMender(language: Language): (word: string) => string {
  const known = new Set([
    ...Object.keys(language.units),
    ...Object.keys(language.nouns),
    ...language.cueWords,
    ...Object.keys(language.numbers),
    ...Object.keys(language.tens),
  ]);
  const candidates = [...known].filter((word) => word.length >= 5);
  const real = new Set(language.realWords);
  const seen = new Map<string, string>();
  return (word) => {
    const short = language.shortSlips[word];
    if (short !== undefined) return short;
    if (word.length < 5 || known.has(word) || real.has(word)) return word;
    const before = seen.get(word);
    if (before !== undefined) return before;
    const slips = word.length >= 9 ? 2 : 1;
    let best = word;
    let bestSlips = slips + 1;
    for (const candidate of candidates) {
      if (Math.abs(candidate.length - word.length) > slips || candidate[0] !== word[0]) continue;
      const found = measureSlips(word, candidate, slips);
      if (found < bestSlips && (found < 2 || candidate.length >= 9)) [best, bestSlips] = [candidate, found];
    }
    if (seen.size < 5000) seen.set(word, best);
    return best;
  };
}

/**
 * Insertions, deletions, replacements and swaps of neighbours (optimal string alignment); above `most`
 * gives `most + 1`.
 */
function measureSlips(left: string, right: string, most: number): number {
  const width = right.length + 1;
  let beforeLast: number[] = [];
  let last = Array.from({ length: width }, (_, index) => index);
  for (let row = 1; row <= left.length; row += 1) {
    const current = [row];
    for (let column = 1; column < width; column += 1) {
      const cost = left[row - 1] === right[column - 1] ? 0 : 1;
      let value = Math.min(
        (last[column] ?? 0) + 1,
        (current[column - 1] ?? 0) + 1,
        (last[column - 1] ?? 0) + cost,
      );
      if (row > 1 && column > 1 && left[row - 1] === right[column - 2] && left[row - 2] === right[column - 1])
        value = Math.min(value, (beforeLast[column - 2] ?? 0) + 1);
      current.push(value);
    }
    if (Math.min(...current) > most) return most + 1;
    beforeLast = last;
    last = current;
  }
  return last[right.length] ?? most + 1;
}
