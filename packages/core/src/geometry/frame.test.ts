import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  Crop,
  frameSize,
  invertAffine,
  isReframed,
  lockCrop,
  mapToSource,
  measureBars,
  unframeSize,
  type Affine,
  type Framing,
} from './frame.ts';

const plain: Framing = { turnDegrees: 0, isMirrored: false, straightenDegrees: 0, crop: null };
const wide = { widthPx: 640, heightPx: 360 };
const apply = ({ a, b, c, d, e, f }: Affine, x: number, y: number) =>
  [a * x + c * y + e, b * x + d * y + f] as const;

const arbitraryFraming: fc.Arbitrary<Framing> = fc.record({
  turnDegrees: fc.constantFrom(0 as const, 90 as const, 180 as const, 270 as const),
  isMirrored: fc.boolean(),
  straightenDegrees: fc.double({ min: -15, max: 15, noNaN: true }),
  crop: fc.option(
    fc
      .tuple(
        fc.double({ min: 0.25, max: 1, noNaN: true }),
        fc.double({ min: 0.25, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
      )
      .map(([width, height, x, y]) => ({ x: x * (1 - width), y: y * (1 - height), width, height })),
  ),
});

describe('a framed picture', () => {
  it('is as large as trigonometry says', () => {
    // 640 / (cos 6° + sin 6° · 16/9) = 542.2; 360 / the same = 305.0.
    expect(frameSize(wide, { ...plain, straightenDegrees: 6 })).toEqual({ widthPx: 542, heightPx: 305 });
    expect(
      frameSize(wide, { ...plain, turnDegrees: 90, crop: { x: 0, y: 0, width: 0.5, height: 0.5 } }),
    ).toEqual({ widthPx: 180, heightPx: 320 });
    expect(frameSize(wide, { ...plain, turnDegrees: 270 })).toEqual({ widthPx: 360, heightPx: 640 });
  });

  it.each([
    ['as it is', {}, [0, 0], [640, 0]],
    ['turned to the right', { turnDegrees: 90 as const }, [0, 360], [0, 0]],
    ['turned about', { turnDegrees: 180 as const }, [640, 360], [0, 360]],
    ['turned to the left', { turnDegrees: 270 as const }, [640, 0], [640, 360]],
    ['mirrored', { isMirrored: true }, [640, 0], [0, 0]],
    ['a quarter of it', { crop: { x: 0.5, y: 0.5, width: 0.5, height: 0.5 } }, [320, 180], [640, 180]],
  ])('shows in its upper corners what it should: %s', (_name, changes, left, right) => {
    const map = mapToSource(wide, { ...plain, ...changes });
    [apply(map, 0, 0), apply(map, 1, 0)].forEach((point, index) =>
      point.forEach((value, axis) => expect(value).toBeCloseTo([left, right][index]?.[axis] ?? NaN, 6)),
    );
  });

  it('straightened to the right shows further down at its left edge', () => {
    const map = mapToSource(wide, { ...plain, straightenDegrees: 5 });
    expect(apply(map, 0, 0.5)[1]).toBeGreaterThan(apply(map, 1, 0.5)[1]);
  });

  it('has no empty corner, whatever is asked for', () =>
    fc.assert(
      fc.property(arbitraryFraming, (framing) => {
        const map = mapToSource(wide, framing);
        for (const [u, v] of [
          [0, 0],
          [1, 0],
          [0, 1],
          [1, 1],
        ] as const) {
          const [x, y] = apply(map, u, v);
          expect(x).toBeGreaterThanOrEqual(-1e-6);
          expect(x).toBeLessThanOrEqual(640 + 1e-6);
          expect(y).toBeGreaterThanOrEqual(-1e-6);
          expect(y).toBeLessThanOrEqual(360 + 1e-6);
        }
        const back = invertAffine(map);
        const [u, v] = apply(back, ...apply(map, 0.3, 0.8));
        expect(u).toBeCloseTo(0.3, 6);
        expect(v).toBeCloseTo(0.8, 6);
        const whole = unframeSize(frameSize(wide, framing), wide, framing);
        expect(Math.abs(whole.widthPx - 640)).toBeLessThanOrEqual(8);
        expect(Math.abs(whole.heightPx - 360)).toBeLessThanOrEqual(8);
      }),
    ));

  it('a map that cannot be undone is told', () =>
    expect(() => invertAffine({ a: 0, b: 0, c: 0, d: 0, e: 1, f: 1 })).toThrow(RangeError));
});

describe('a part', () => {
  it('with locked proportions is the largest about the same middle', () => {
    expect(lockCrop(wide, null, 1)).toEqual({ x: 0.21875, y: 0, width: 0.5625, height: 1 });
    const square = lockCrop(wide, { x: 0.6, y: 0.2, width: 0.3, height: 0.4 }, 1);
    expect(((square?.width ?? 0) * 640) / ((square?.height ?? 1) * 360)).toBeCloseTo(1, 3);
    expect((square?.x ?? 9) + (square?.width ?? 9)).toBeLessThanOrEqual(1 + 1e-6);
  });

  it('outside the picture, or too small, is refused', () => {
    expect(Crop.safeParse({ x: 0.5, y: 0, width: 0.6, height: 1 }).success).toBe(false);
    expect(Crop.safeParse({ x: 0, y: 0, width: 0.1, height: 1 }).success).toBe(false);
  });
});

describe('bars up to other proportions', () => {
  it('fill a picture up, whichever edge lacks, and lie beyond it in the recording', () => {
    const upright = { widthPx: 360, heightPx: 640 };
    const framing = { ...plain, barsTo: 16 / 9 };
    expect(frameSize(upright, framing)).toEqual({ widthPx: 1138, heightPx: 640 });
    expect(measureBars(upright, framing).x).toBeCloseTo((1 - 360 / (640 * (16 / 9))) / 2, 6);
    expect(measureBars(upright, framing).y).toBe(0);
    const map = mapToSource(upright, framing);
    // The middle stays the middle; the left edge of the result lies left of the recording.
    expect(map.a * 0.5 + map.c * 0.5 + map.e).toBeCloseTo(180, 6);
    expect(map.e).toBeCloseTo((360 - 640 * (16 / 9)) / 2, 6);
    expect(isReframed(framing)).toBe(true);
  });

  it('come after a part was chosen and the picture turned', () => {
    const framing = {
      ...plain,
      turnDegrees: 90,
      crop: { x: 0.25, y: 0, width: 0.5, height: 1 },
      barsTo: 1,
    } as const;
    // 640×360 turned is 360×640; its middle half is 180×640; a square about that is 640 wide.
    expect(frameSize({ widthPx: 640, heightPx: 360 }, framing)).toEqual({ widthPx: 640, heightPx: 640 });
    expect(unframeSize({ widthPx: 640, heightPx: 640 }, { widthPx: 640, heightPx: 360 }, framing)).toEqual({
      widthPx: 640,
      heightPx: 360,
    });
  });
});
