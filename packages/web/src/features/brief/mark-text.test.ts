import { Limit, readInstructions } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { markText } from './mark-text.ts';

const text = 'Hand in an MP4 of no more than 12 megs. Make sure the balance is nice. Room 12 is free.';
const mark = (limits: Limit[]) => markText(text, limits, readInstructions(text, { now: '2026-11-24T09:00' }));

describe('markText', () => {
  it('joins to the text again, whatever is marked', () => {
    expect(
      mark(readInstructions(text).limits)
        .map((part) => part.text)
        .join(''),
    ).toBe(text);
    expect(
      mark([])
        .map((part) => part.text)
        .join(''),
    ).toBe(text);
  });

  it('marks limits by their words and wishes apart from them', () => {
    const marked = mark(readInstructions(text).limits).filter((part) => part.limitId !== null || part.isWish);
    expect(marked.map((part) => [part.text, part.limitId, part.isWish])).toEqual([
      ['MP4', 'format', false],
      ['no more than 12 megs', 'file-size', false],
      ['Make sure the balance is nice', null, true],
    ]);
  });

  it('marks words that can be read in two ways until they are settled', () => {
    const doubtful = 'Film the dress run. The hall closes on 12 February.';
    const read = (answers = {}) => readInstructions(doubtful, { now: '2027-01-10T12:00', answers });
    const [question] = read().questions;
    const asked = (answers = {}) =>
      markText(doubtful, read(answers).limits, read(answers)).filter((part) => part.questionId !== null);
    expect(asked().map((part) => [part.questionId, part.isWish])).toEqual([[question?.id, false]]);
    expect(asked({ [question?.id ?? '']: 1 })).toEqual([]);
  });

  it('marks the words of announced limits, whose ids are their own', () => {
    const announced = [
      Limit.parse({ id: 'l1', kind: 'file-size', maxBytes: 12_000_000, words: 'no more than 12 megs' }),
    ];
    expect(
      mark(announced)
        .filter((part) => part.limitId === 'l1')
        .map((part) => part.text),
    ).toEqual(['no more than 12 megs']);
  });

  it('leaves a limit that a person added without words unmarked', () => {
    expect(
      mark([Limit.parse({ id: 'own', kind: 'sharp', isChangedByPerson: true })]).filter(
        (part) => part.limitId !== null,
      ),
    ).toEqual([]);
  });

  it('knows where each part begins', () => {
    for (const part of mark(readInstructions(text).limits))
      expect(text.slice(part.start, part.start + part.text.length)).toBe(part.text);
  });
});
