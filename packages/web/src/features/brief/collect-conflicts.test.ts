import { readInstructions, type Limit } from '@apodix/core';
import { expect, it } from 'vitest';
import { collectConflicts } from './collect-conflicts.ts';

const NOW = '2026-11-24T09:00';
const messages = (text: string, change = (limits: Limit[]) => limits) => {
  const read = readInstructions(text, { now: NOW });
  return collectConflicts(read, change(read.limits), NOW).map((conflict) => conflict.message);
};

it('tells a contradiction inside the text until a person has settled it', () => {
  const text = 'At least 3 minutes and no more than 2 minutes.';
  expect(messages(text)).toEqual([expect.stringContaining('no file can meet both')]);
  expect(messages(text, (limits) => limits.map((limit) => ({ ...limit, isChangedByPerson: true })))).toEqual(
    [],
  );
});

it('tells each clash once, and nothing where all can be met', () => {
  expect(messages('Exactly 10 minutes at 1080p or more, at most 5 MB.')).toEqual([
    expect.stringContaining('does not fit in 5 MB'),
  ]);
  expect(messages('MP4, at most 100 MB, two minutes at most.')).toEqual([]);
});
