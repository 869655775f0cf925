import { describe, expect, it } from 'vitest';
import { parseAvcC, writeAvcC } from './merge-parameter-sets.ts';

/**
 * ISO/IEC 14496-15 5.3.3.1.2, written by hand: High profile, level 4.1, two sequence sets and one picture
 * set, then what High adds.
 */
const bytes = Buffer.from([
  1, 100, 0, 41, 0xff, 0xe2, 0, 3, 0x67, 0x64, 0x29, 0, 4, 0x67, 0x64, 0x29, 0x01, 1, 0, 2, 0x68, 0xee, 0xfd,
  0xf8, 0xf8, 0,
]);

describe('parameter sets', () => {
  it('are read as the box holds them', () => {
    const sets = parseAvcC(bytes);
    expect([...sets.head]).toEqual([1, 100, 0, 41, 0xff]);
    expect(sets.sps.map((nal) => nal.toString('hex'))).toEqual(['676429', '67642901']);
    expect(sets.pps.map((nal) => nal.toString('hex'))).toEqual(['68ee']);
    expect([...sets.tail]).toEqual([0xfd, 0xf8, 0xf8, 0]);
  });
  it('are written back to the bit', () => expect(writeAvcC(parseAvcC(bytes)).equals(bytes)).toBe(true));
});
