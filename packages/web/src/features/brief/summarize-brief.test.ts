import { readInstructions, type Slot } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { describeMissing } from '../hand-in/describe-missing.ts';
import { summarizeBrief } from './summarize-brief.ts';

const slot = (item: Slot['item'], min: number, max: number): Slot => ({
  id: item,
  label: item,
  item,
  min,
  max,
  alternative: null,
});

describe('summarizeBrief', () => {
  it('puts the limits into one sentence', () => {
    const { limits } = readInstructions(
      'Film one performance sideways, between 1:30 and 2:00 long. MP4, at most 100 MB. Name it Surname_Firstname_Piece.',
    );
    expect(summarizeBrief(limits, [slot('video', 1, 1)])).toBe(
      'One MP4, 1:30 to 2:00, at most 100 MB, filmed sideways, named Surname_Firstname_Piece.',
    );
  });
  it('counts, and stays empty where nothing is asked', () => {
    expect(summarizeBrief([], [slot('photo', 3, 5)])).toBe('3 to 5 photographs.');
    expect(summarizeBrief([], [])).toBe('');
  });
});

describe('describeMissing', () => {
  it.each([
    [[], 'Everything is here. One press is left.'],
    [['tick it'], 'One thing is left: tick it.'],
    [['a', 'b', 'c'], 'Three things are left: a, b, and c.'],
  ])('%j', (missing, words) => expect(describeMissing(missing)).toBe(words));
});
