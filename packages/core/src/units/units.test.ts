import { describe, expect, it } from 'vitest';
import { formatBytes, formatExactBytes } from './bytes.ts';
import { formatDuration, formatWait } from './duration.ts';

describe('formatBytes', () => {
  it.each([
    [0, '0 B'],
    [999, '999 B'],
    [1000, '1 kB'],
    [1500, '1.5 kB'],
    [96_412_331, '96.4 MB'],
    [100_000_000, '100 MB'],
    [2_500_000_000, '2.5 GB'],
    [999_999, '1 MB'],
  ])('%d bytes reads %s', (bytes, words) => expect(formatBytes(bytes)).toBe(words));

  it('tells exact counts in groups of three', () =>
    expect(formatExactBytes(96412331)).toBe('96\u202f412\u202f331 bytes'));
});

describe('formatDuration', () => {
  it.each([
    [0, undefined, '0:00'],
    [129_500_000, undefined, '2:09.5'],
    [11_400_000, 2, '0:11.40'],
    [3_723_000_000, undefined, '1:02:03'],
    [119_999_000, 0, '1:59'],
    [119_999_999, 1, '1:59.9'],
    [-1_500_000, undefined, '−0:01.5'],
  ])('%d µs with %s places reads %s', (us, places, words) => expect(formatDuration(us, places)).toBe(words));
});

describe('formatWait', () => {
  it.each([
    [9 * 3_600_000, '9 h'],
    [(48 + 3) * 3_600_000, '2 d 3 h'],
    [6 * 86_400_000 + 5, '6 d'],
    [12 * 60_000, '12 min'],
    [0, '0 min'],
    [2 * 3_600_000 + 60_000 * 5, '2 h 5 min'],
  ])('%d ms reads %s', (ms, words) => expect(formatWait(ms)).toBe(words));
});
