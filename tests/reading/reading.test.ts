import { readInstructions } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { dutchTexts } from './dutch-texts.ts';
import { sets } from './all-texts.ts';
import { measureReading } from './measure-reading.ts';
import { READ_AT } from './texts.ts';

describe('reading the texts of the benchmark', () => {
  it.each(Object.entries(sets))('the %s set: precision and recall of at least 0.95', (_name, texts) => {
    const { precision, recall, faults } = measureReading(texts, READ_AT);
    expect(
      [precision >= 0.95, recall >= 0.95, faults.length <= 0.2 * texts.length],
      JSON.stringify(faults, null, 1),
    ).toEqual([true, true, true]);
  });

  it('reads a second language as a trial, and says so', () => {
    const { precision, recall, faults } = measureReading(dutchTexts, READ_AT);
    expect([precision >= 0.9, recall >= 0.9], JSON.stringify(faults, null, 1)).toEqual([true, true]);
    for (const { text } of dutchTexts) expect(readInstructions(text).trial, text).toBe('Dutch');
    for (const { text } of Object.values(sets).flat()) expect(readInstructions(text).trial, text).toBeNull();
  });

  it('asks about no more than one in ten of what it reads', () =>
    expect(measureReading(Object.values(sets).flat(), READ_AT).asked).toBeLessThan(0.1));

  it('tells what was not understood', () => {
    const { wishesFound, wishesWanted } = measureReading(Object.values(sets).flat(), READ_AT);
    expect(wishesFound).toBe(wishesWanted);
  });
});
