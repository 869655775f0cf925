import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placePicture } from './place-picture.ts';
import { buildColumns, moveEnd, placeInstant, readInstant } from './strip-layout.ts';

describe('the strip', () => {
  it('places an instant and reads it back to within a pixel', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 3_600_000_000 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.integer({ min: 50, max: 4000 }),
        (durationUs, share, widthPx) => {
          const scale = { widthPx, durationUs };
          const instant = Math.round(share * durationUs);
          return Math.abs(readInstant(scale, placeInstant(scale, instant)) - instant) <= 1;
        },
      ),
    );
  });

  it('keeps the loudest of what a column covers', () => {
    expect(buildColumns([0, 0.25, 0.01, 1], 2)).toEqual([0.5, 1]);
    expect(buildColumns([], 5)).toEqual([]);
  });

  it('moves one end, never past the other nor out of the take', () => {
    const bounds = { durationUs: 100, leastUs: 4 };
    expect(moveEnd({ startUs: 10, finishUs: 50 }, 'start', 80, bounds)).toEqual({
      startUs: 46,
      finishUs: 50,
    });
    expect(moveEnd({ startUs: 10, finishUs: 50 }, 'start', -5, bounds)).toEqual({ startUs: 0, finishUs: 50 });
    expect(moveEnd({ startUs: 10, finishUs: 50 }, 'finish', 500, bounds)).toEqual({
      startUs: 10,
      finishUs: 100,
    });
    expect(moveEnd({ startUs: 10, finishUs: 50 }, 'finish', 3, bounds)).toEqual({
      startUs: 10,
      finishUs: 14,
    });
  });
});

it('a turned picture still fits its box', () => {
  expect(placePicture({ widthPx: 1920, heightPx: 1080 }, { widthPx: 540, heightPx: 960 }, 90, false)).toEqual(
    { widthPx: 960, heightPx: 540, transform: 'rotate(90deg)' },
  );
  expect(placePicture({ widthPx: 200, heightPx: 100 }, { widthPx: 100, heightPx: 100 }, 0, true)).toEqual({
    widthPx: 100,
    heightPx: 50,
    transform: 'scaleX(-1) rotate(0deg)',
  });
});
