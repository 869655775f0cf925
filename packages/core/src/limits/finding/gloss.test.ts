import { expect, it } from 'vitest';
import { findLexicon, glossText, glossTokens, type Lexicon } from './gloss.ts';
import { readTokens } from './tokens.ts';

/** Words of no language. */
const lexicon: Lexicon = {
  id: 'nl',
  name: 'Invented',
  tellTale: ['blim', 'blam'],
  phrases: { blimster: 'may', 'ten blam': 'at most', ko: 'half an hour', kobalt: 'file' },
};

it('tells a language by at least two of its words, and by more of them than of English', () => {
  expect(findLexicon('blim 3 blam', [lexicon])).toBe(lexicon);
  expect(findLexicon('blim 3', [lexicon])).toBeNull();
  expect(findLexicon('the file must be blim blam', [lexicon])).toBeNull();
  expect(findLexicon('', [lexicon])).toBeNull();
});

it('leaves every other word at its place, and what is longer in English as it was', () => {
  const text = 'xx blimster ten   blam 5 ko, kobalten';
  const glossed = glossText(text, lexicon);
  expect(glossed).toBe('xx may      at most    5 ko, kobalten');
  expect(glossed).toHaveLength(text.length);
});

it('gives each word of a phrase the place of the phrase', () => {
  const text = 'ko of ten blam';
  const tokens = glossTokens(readTokens(text, String), lexicon);
  expect(tokens.map(({ text: word, start, end }) => [word, text.slice(start, end)])).toEqual([
    ['half', 'ko'],
    ['an', 'ko'],
    ['hour', 'ko'],
    ['of', 'of'],
    ['at', 'ten blam'],
    ['most', 'ten blam'],
  ]);
});
