import type { Language } from './language.ts';
import type { Token } from './tokens.ts';

export interface ReadNumber {
  readonly value: number;
  /** Index of the first token after it. */
  readonly next: number;
  /** Ends in "half a", so that the unit follows without a number of its own. */
  readonly isShareOfUnit?: boolean;
}

const SHARES: Readonly<Record<string, number>> = { '½': 0.5, '¼': 0.25, '¾': 0.75, '⅓': 1 / 3, '⅔': 2 / 3 };

/**
 * Reads a number in digits or words from token `at` on; null where there is none. An article alone is no
 * number.
 */
export function readNumber(tokens: readonly Token[], at: number, language: Language): ReadNumber | null {
  const token = tokens[at];
  if (!token) return null;
  if (token.kind === 'number') return readDigits(tokens, at);
  if (token.kind !== 'word') return null;
  if (token.text === 'single' && !language.articles.includes(tokens[at - 1]?.text ?? '')) return null;
  const word = (index: number) => (tokens[index]?.kind === 'word' ? (tokens[index]?.text ?? '') : '');
  const isArticle = language.articles.includes(token.text);

  // "half a", "a quarter of an", "three quarters of a"
  const halfAt = isArticle ? at + 1 : at;
  if (language.half.includes(word(halfAt))) {
    const next = language.articles.includes(word(halfAt + 1)) ? halfAt + 2 : halfAt + 1;
    return { value: 0.5, next, isShareOfUnit: true };
  }
  const quarterAt = isArticle || language.numbers[token.text] !== undefined ? at + 1 : at;
  if (language.quarter.includes(word(quarterAt)) && word(quarterAt + 1) === language.of) {
    const count = quarterAt === at || isArticle ? 1 : (language.numbers[token.text] ?? 1);
    return {
      value: count * 0.25,
      next: language.articles.includes(word(quarterAt + 2)) ? quarterAt + 3 : quarterAt + 2,
      isShareOfUnit: true,
    };
  }
  if (isArticle) {
    const group = language.groups[word(at + 1)];
    if (group !== undefined) return { value: group, next: word(at + 2) === language.of ? at + 3 : at + 2 };
    if (language.hundred.includes(word(at + 1))) return addBelow(tokens, at + 2, 100, language);
    if (language.thousand.includes(word(at + 1))) return addBelow(tokens, at + 2, 1000, language);
    return null;
  }
  // "One film per pair" tells who, not how many.
  const isWho = language.each.includes(tokens[at - 1]?.text ?? '') && word(at + 1) !== language.of;
  const group = isWho ? undefined : language.groups[token.text];
  if (group !== undefined) return { value: group, next: word(at + 1) === language.of ? at + 2 : at + 1 };
  const small = readBelowHundred(tokens, at, language);
  if (!small) return null;
  if (language.hundred.includes(word(small.next)))
    return addBelow(tokens, small.next + 1, small.value * 100, language);
  if (language.thousand.includes(word(small.next)))
    return addBelow(tokens, small.next + 1, small.value * 1000, language);
  return addHalf(tokens, small, language);
}

function readDigits(tokens: readonly Token[], at: number): ReadNumber {
  const raw = tokens[at]?.text ?? '';
  const share = SHARES[raw.at(-1) ?? ''] ?? 0;
  const digits = share ? raw.slice(0, -1) : raw;
  const value = (digits === '' ? 0 : parseDigits(digits)) + share;
  const [second, slash, third] = [tokens[at + 1], tokens[at + 2], tokens[at + 3]];
  // "1 1/2"
  if (
    second?.kind === 'number' &&
    slash?.text === '/' &&
    third?.kind === 'number' &&
    slash.isGlued &&
    third.isGlued &&
    Number(third.text) > Number(second.text)
  )
    return { value: value + Number(second.text) / Number(third.text), next: at + 4 };
  return { value, next: at + 1 };
}

/** `1,000` is a thousand, `1,5` is one and a half. */
function parseDigits(spaced: string): number {
  const digits = spaced.replace(/ /g, '');
  return /^\d{1,3}(?:,\d{3})+(?:\.\d+)?$/.test(digits)
    ? Number(digits.replace(/,/g, ''))
    : Number(digits.replace(',', '.'));
}

function readBelowHundred(tokens: readonly Token[], at: number, language: Language): ReadNumber | null {
  const text = tokens[at]?.text ?? '';
  const ten = language.tens[text];
  if (ten === undefined) {
    const one = language.numbers[text];
    return one === undefined ? null : { value: one, next: at + 1 };
  }
  const onesAt = tokens[at + 1]?.text === '-' ? at + 2 : at + 1;
  const ones = tokens[onesAt]?.kind === 'word' ? language.numbers[tokens[onesAt]?.text ?? ''] : undefined;
  return ones !== undefined && ones > 0 && ones < 10
    ? { value: ten + ones, next: onesAt + 1 }
    : { value: ten, next: at + 1 };
}

function addBelow(tokens: readonly Token[], at: number, value: number, language: Language): ReadNumber {
  const restAt = tokens[at]?.text === language.and ? at + 1 : at;
  const rest = tokens[restAt]?.kind === 'word' ? readBelowHundred(tokens, restAt, language) : null;
  return rest ? { value: value + rest.value, next: rest.next } : { value, next: at };
}

/** "two and a half", "two and a quarter", "two and three quarters" */
function addHalf(tokens: readonly Token[], number: ReadNumber, language: Language): ReadNumber {
  const words = [0, 1, 2].map((offset) => tokens[number.next + offset]?.text ?? '');
  if (words[0] !== language.and) return number;
  const count = language.articles.includes(words[1] ?? '') ? 1 : language.numbers[words[1] ?? ''];
  const next = number.next + 3;
  if (count === 1 && language.half.includes(words[2] ?? '')) return { value: number.value + 0.5, next };
  const isQuarter = (count === 1 || count === 3) && language.quarter.includes(words[2] ?? '');
  return isQuarter ? { value: number.value + count * 0.25, next } : number;
}
