import { describe, expect, it } from 'vitest';
import { divideText, shiftStretches } from './shift-words.ts';

const TEXT = 'Film one dauce of two mimutes.';
const WORDS = ['dauce', 'mimutes'].map((word) => ({
  start: TEXT.indexOf(word),
  end: TEXT.indexOf(word) + word.length,
}));
const wordsAfter = (after: string) =>
  shiftStretches(WORDS, TEXT, after).map(({ start, end }) => after.slice(start, end));

describe('doubtful words while the text is corrected', () => {
  it.each([
    ['Film one dauce of two mimutes.', ['dauce', 'mimutes']],
    ['Film one dance of two mimutes.', ['mimutes']],
    ['Film one dauce of two minutes.', ['dauce']],
    ['Please film one dauce of two mimutes.', ['dauce', 'mimutes']],
    ['Film one dauce of two mimutes. Please.', ['dauce', 'mimutes']],
    ['Film one dauce of about two mimutes.', ['dauce', 'mimutes']],
    ['Film one dauces of two mimutes.', ['mimutes']],
    ['', []],
  ])('%s', (after, words) => expect(wordsAfter(after)).toEqual(words));

  it('are marked where they stand, and nothing of the text is lost', () => {
    const parts = divideText(TEXT, WORDS);
    expect(parts.map(({ text }) => text).join('')).toBe(TEXT);
    expect(parts.filter(({ isMarked }) => isMarked).map(({ text }) => text)).toEqual(['dauce', 'mimutes']);
  });
});
