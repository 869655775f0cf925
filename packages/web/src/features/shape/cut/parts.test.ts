import { describe, expect, it } from 'vitest';
import { moveCrop } from '../frame/move-crop.ts';
import { parseTime } from './parse-time.ts';
import {
  dissolveInto,
  listLeftOut,
  listParts,
  measureParts,
  removePart,
  reorderParts,
  splitParts,
} from './parts.ts';

const part = (startUs: number, finishUs: number) => ({ source: 0, startUs, finishUs });
const two = [part(1_000_000, 3_000_000), part(5_000_000, 9_000_000)];

describe('the parts that are kept', () => {
  it('are all of the take where none is named', () =>
    expect(listParts([], { startUs: 0, finishUs: 7 })).toEqual([part(0, 7)]));

  it('are divided where one is, and put in another order', () => {
    expect(splitParts(two, 6_000_000)).toEqual([
      two[0],
      part(5_000_000, 6_000_000),
      part(6_000_000, 9_000_000),
    ]);
    expect(splitParts(two, 4_000_000)).toEqual(two);
    expect(splitParts(two, 1_050_000)).toEqual(two);
    expect(reorderParts(two, 1, 0)).toEqual([two[1], two[0]]);
    expect(reorderParts(two, 0, 2)).toEqual(two);
    expect(removePart(two, 0)).toEqual([two[1]]);
    expect(removePart([part(0, 1)], 0)).toEqual([part(0, 1)]);
  });

  it('leave the rest out, whatever their order', () => {
    const out = [
      { startUs: 0, finishUs: 1_000_000 },
      { startUs: 3_000_000, finishUs: 5_000_000 },
      { startUs: 9_000_000, finishUs: 9_500_000 },
    ];
    expect(listLeftOut(two, 9_500_000)).toEqual(out);
    expect(listLeftOut([...two].reverse(), 9_500_000)).toEqual(out);
    expect(measureParts(two)).toBe(6_000_000);
  });

  it('share what goes over from one into the next, half of the shorter one at the most', () => {
    const mixed = dissolveInto(two, 1, 500_000);
    expect(measureParts(mixed)).toBe(5_500_000);
    expect(measureParts(dissolveInto(two, 1, 3_000_000))).toBe(5_000_000);
    expect(measureParts(dissolveInto(two, 0, 500_000))).toBe(6_000_000);
    expect(dissolveInto(mixed, 1, null)).toEqual(two);
    // A part that is divided goes over from the one before, not into its own second half.
    expect(splitParts(mixed, 6_000_000).map(({ dissolveUs }) => dissolveUs)).toEqual([
      undefined,
      500_000,
      undefined,
    ]);
  });
});

it.each([
  ['0:05', 5_000_000],
  ['1:02.5', 62_500_000],
  [' 62,25 ', 62_250_000],
  ['1:01:02', 3_662_000_000],
  ['2:75', null],
  ['soon', null],
  ['', null],
])('"%s" is read as a moment', (words, us) => expect(parseTime(words)).toBe(us));

describe('a part of the picture', () => {
  const half = { x: 0.25, y: 0.25, width: 0.5, height: 0.5 };
  it('is moved and sized inside the picture', () => {
    expect(moveCrop(half, 'move', 0.9, -0.9, null)).toEqual({ ...half, x: 0.5, y: 0 });
    expect(moveCrop(half, 'se', 0.1, 0.9, null)).toEqual({ ...half, width: 0.6, height: 0.75 });
    expect(moveCrop(half, 'nw', 0.4, 0.1, null)).toEqual({ x: 0.5, y: 0.35, width: 0.25, height: 0.4 });
  });
  it('keeps locked proportions', () => {
    const made = moveCrop(half, 'ne', 0.2, 0, 1);
    expect(made.width).toBeCloseTo(made.height, 3);
    expect([made.x, Math.round((made.y + made.height) * 100) / 100]).toEqual([0.25, 0.75]);
  });
});
