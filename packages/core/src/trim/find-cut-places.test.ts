import { describe, expect, it } from 'vitest';
import { findCutPlaces } from './find-cut-places.ts';

/** Peaks at 20 a second from stretches of seconds and level. */
const peaksOf = (...stretches: readonly (readonly [number, number])[]) => ({
  columnsPerSecond: 20,
  peaks: stretches.flatMap(([seconds, level]) =>
    Array.from({ length: Math.round(seconds * 20) }, () => level),
  ),
});
const all = (seconds: number) => ({ startUs: 0, finishUs: seconds * 1e6 });

describe('where a performance that is too long could end', () => {
  const peaks = peaksOf([18, 0.4], [0.8, 0.01], [14, 0.4], [0.5, 0.008], [20, 0.4]);

  it('is at pauses, the latest first, and at the longest that is allowed', () => {
    const places = findCutPlaces(all(53), 35_000_000, peaks);
    expect(places.map((place) => place.kind)).toEqual(['pause', 'pause', 'longest']);
    // The pauses last from 18.0 to 18.8 s and from 32.8 to 33.3 s.
    expect(Math.abs((places[0]?.atUs ?? 0) - 33_050_000)).toBeLessThan(60_000);
    expect(Math.abs((places[1]?.atUs ?? 0) - 18_400_000)).toBeLessThan(60_000);
    expect(places[2]?.atUs).toBe(35_000_000);
  });

  it('is not before the least length, and nowhere where it is short enough', () => {
    expect(findCutPlaces(all(53), 35_000_000, peaks, 20_000_000).map((place) => place.kind)).toEqual([
      'pause',
      'longest',
    ]);
    expect(findCutPlaces(all(30), 35_000_000, peaks)).toEqual([]);
    expect(findCutPlaces(all(53), null, peaks)).toEqual([]);
  });

  it('without pauses, or without sound, is the longest that is allowed alone', () => {
    expect(findCutPlaces(all(53), 35_000_000, peaksOf([53, 0.4])).map((place) => place.kind)).toEqual([
      'longest',
    ]);
    expect(findCutPlaces({ startUs: 4_000_000, finishUs: 50_000_000 }, 35_000_000, null)).toEqual([
      { atUs: 39_000_000, kind: 'longest', reason: 'the longest that is allowed' },
    ]);
  });
});
