import { expect, it } from 'vitest';
import { dropAlpha } from '../picture/drop-alpha.ts';
import { paintPixels } from './table-painter.ts';
import { readPlace, readTones } from './read-tones.ts';

it('points lose their alpha, and nothing else', () =>
  expect([...dropAlpha(Uint8ClampedArray.of(1, 2, 3, 255, 4, 5, 6, 0))]).toEqual([1, 2, 3, 4, 5, 6]));

/** A table of two points a side that exchanges black and white. */
const inverse = {
  edge: 2,
  values: Float32Array.from({ length: 24 }, (_, at) => 1 - ((Math.floor(at / 3) >> (at % 3)) & 1)),
};

it('points go through a table, and full white and black are marked where that is wanted', () => {
  const data = Uint8ClampedArray.of(0, 0, 0, 255, 51, 102, 204, 255);
  paintPixels(data, inverse, false);
  expect([...data]).toEqual([255, 255, 255, 255, 204, 153, 51, 255]);
  const marked = Uint8ClampedArray.of(0, 0, 0, 255, 255, 255, 255, 255);
  paintPixels(marked, inverse, true);
  // What became white is marked red, what became black blue.
  expect((marked[0] ?? 0) > (marked[2] ?? 0)).toBe(true);
  expect((marked[6] ?? 0) > (marked[4] ?? 0)).toBe(true);
});

it('light is counted from black to white, with what lies at both ends', () => {
  const data = Uint8ClampedArray.from([
    0, 0, 0, 255, 255, 255, 255, 255, 128, 128, 128, 255, 128, 128, 128, 255,
  ]);
  const tones = readTones(data, null);
  expect([tones.whiteShare, tones.blackShare]).toEqual([0.25, 0.25]);
  expect([tones.columns[0], tones.columns[24], tones.columns.at(-1)]).toEqual([0.5, 1, 0.5]);
  expect(readTones(data, inverse).columns[0]).toBe(0.5);
});

it('a place is read by what lies about it', () => {
  const data = Uint8ClampedArray.from({ length: 10 * 10 * 4 }, (_, at) =>
    at % 4 === 0 ? Math.floor(at / 4) % 10 : 9,
  );
  expect(readPlace({ data, width: 10, height: 10 }, 0.5, 0.5, 1)[0]).toBeCloseTo(5, 5);
  expect(readPlace({ data, width: 10, height: 10 }, 0, 0, 1)[0]).toBeCloseTo(0.5, 5);
});
