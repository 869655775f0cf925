import { describe, expect, it } from 'vitest';
import {
  describeBounds,
  formatSigned,
  joinWords,
  listContainers,
  writeLocalTime,
  writeRate,
} from './words.ts';

describe('words of limits', () => {
  it('bounds on one side, on both, and the same on both', () => {
    const write = (value: number) => `${value} px`;
    expect([
      describeBounds(1, 2, write),
      describeBounds(null, 2, write),
      describeBounds(1, null, write),
      describeBounds(2, 2, write),
      describeBounds(null, null, write),
    ]).toEqual(['1 px to 2 px', 'at most 2 px', 'at least 1 px', 'exactly 2 px', 'any']);
  });
  it('minus is U+2212, and zero has none', () =>
    expect([-16.04, 0, 3.25].map(formatSigned)).toEqual(['\u221216', '0', '3.3']));
  it('rates with as many decimals as they need', () =>
    expect([25, 30_000 / 1001, 12.5].map(writeRate)).toEqual([
      '25 a second',
      '29.97 a second',
      '12.5 a second',
    ]));
  it('lists', () => {
    expect(['or', 'and'].map((word) => joinWords(['a', 'b', 'c'], word as 'or' | 'and'))).toEqual([
      'a, b or c',
      'a, b and c',
    ]);
    expect([joinWords(['a'], 'or'), joinWords([], 'or')]).toEqual(['a', '']);
    expect(listContainers(['mp4', 'mov'])).toBe('MP4 or MOV');
  });
  it('times of day as they are at the school', () => {
    expect(writeLocalTime('2026-11-27T16:00', true)).toBe('27 Nov 2026, 16:00');
    expect(writeLocalTime('2027-01-03T23:59', false)).toBe('3 Jan 2027');
  });
});
