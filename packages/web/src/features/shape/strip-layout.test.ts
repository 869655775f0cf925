import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placePicture } from './place-picture.ts';
import {
  buildColumns,
  moveEnd,
  moveView,
  placeInstant,
  readInstant,
  showInstant,
  zoomView,
} from './strip-layout.ts';

describe('the strip', () => {
  it('places an instant and reads it back to within a pixel, however near it is', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1000, max: 3_600_000_000 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 0.9, noNaN: true }),
        fc.integer({ min: 50, max: 4000 }),
        (durationUs, share, from, widthPx) => {
          const view = { startUs: Math.floor(from * durationUs), finishUs: durationUs };
          const scale = { widthPx, view };
          const instant = Math.round(view.startUs + share * (durationUs - view.startUs));
          return Math.abs(readInstant(scale, placeInstant(scale, instant)) - instant) <= 1;
        },
      ),
    );
  });

  it('comes nearer about an instant, never nearer than some frames nor out of the take', () => {
    const bounds = { durationUs: 100_000, leastUs: 1000 };
    const near = zoomView({ startUs: 0, finishUs: 100_000 }, 2, 50_000, bounds);
    expect(near).toEqual({ startUs: 25_000, finishUs: 75_000 });
    expect(zoomView(near, 1 / 8, 30_000, bounds)).toEqual({ startUs: 0, finishUs: 100_000 });
    expect(zoomView(near, 1000, 25_000, bounds)).toEqual({ startUs: 25_000, finishUs: 26_000 });
    expect(moveView(near, 90_000, 100_000)).toEqual({ startUs: 50_000, finishUs: 100_000 });
    expect(showInstant(near, 80_000, 100_000)).toEqual({ startUs: 30_000, finishUs: 80_000 });
    expect(showInstant(near, 60_000, 100_000)).toBe(near);
  });

  it('keeps the loudest of what a column covers', () => {
    const whole = { startUs: 0, finishUs: 4_000_000 };
    expect(buildColumns([0, 0.25, 0.01, 1], 1, whole, 2)).toEqual([0.25, 1]);
    expect(buildColumns([0, 0.25, 0.01, 1], 1, { startUs: 2_000_000, finishUs: 3_000_000 }, 2)).toEqual([
      0.01, 0.01,
    ]);
    expect(buildColumns([], 20, whole, 5)).toEqual([]);
  });

  it('moves one end, never past the other nor out of the take', () => {
    const bounds = { durationUs: 100, leastUs: 4 };
    const range = { startUs: 10, finishUs: 50 };
    expect(moveEnd(range, 'start', 80, bounds)).toEqual({ startUs: 46, finishUs: 50 });
    expect(moveEnd(range, 'start', -5, bounds)).toEqual({ startUs: 0, finishUs: 50 });
    expect(moveEnd(range, 'finish', 500, bounds)).toEqual({ startUs: 10, finishUs: 100 });
    expect(moveEnd(range, 'finish', 3, bounds)).toEqual({ startUs: 10, finishUs: 14 });
  });
});

describe('a picture in its window', () => {
  const plain = { turnDegrees: 0 as const, isMirrored: false, straightenDegrees: 0, crop: null };
  const wide = { widthPx: 1920, heightPx: 1080 };
  /** Where a CSS matrix puts a corner of the element. */
  const put = (transform: string, x: number, y: number) => {
    const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] = (/\((.*)\)/.exec(transform)?.[1] ?? '')
      .split(',')
      .map(Number);
    return [a * x + c * y + e, b * x + d * y + f].map((value) => Math.round(value * 100) / 100);
  };

  it('turned still fits its box, upper left at the upper right', () => {
    const placed = placePicture(wide, { widthPx: 540, heightPx: 960 }, { ...plain, turnDegrees: 90 });
    expect(placed.windowPx).toEqual({ widthPx: 540, heightPx: 960 });
    expect(put(placed.transform, 0, 0)).toEqual([540, 0]);
    expect(put(placed.transform, placed.elementPx.widthPx, placed.elementPx.heightPx)).toEqual([0, 960]);
  });

  it('mirrored has left and right exchanged; a part fills the window', () => {
    const mirrored = placePicture(wide, { widthPx: 192, heightPx: 108 }, { ...plain, isMirrored: true });
    expect(put(mirrored.transform, 0, 0)).toEqual([192, 0]);
    const part = placePicture(
      wide,
      { widthPx: 192, heightPx: 108 },
      { ...plain, crop: { x: 0.5, y: 0, width: 0.5, height: 0.5 } },
    );
    expect(put(part.transform, part.elementPx.widthPx / 2, 0)).toEqual([0, 0]);
    expect(put(part.transform, part.elementPx.widthPx, part.elementPx.heightPx / 2)).toEqual([192, 108]);
  });
});
