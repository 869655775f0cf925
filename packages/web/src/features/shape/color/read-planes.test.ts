import { afterEach, expect, it, vi } from 'vitest';
import { buildPlaneMatrix, readPlanes, type Planes } from './read-planes.ts';

afterEach(() => vi.unstubAllGlobals());

const show = (wish: Parameters<typeof buildPlaneMatrix>[0], code: readonly [number, number, number]) => {
  const { columns, less } = buildPlaneMatrix(wish);
  const [y, b, r] = code.map((value, index) => value / 255 - (less[index] ?? 0));
  return [0, 1, 2].map((side) =>
    Math.round(
      255 *
        ((columns[side] ?? 0) * (y ?? 0) +
          (columns[3 + side] ?? 0) * (b ?? 0) +
          (columns[6 + side] ?? 0) * (r ?? 0)),
    ),
  );
};

// Codes of white, black, red and blue at full strength: ITU-R BT.709-6 and BT.601-7, eight bits.
it.each([
  ['bt709', false, [235, 128, 128], [255, 255, 255]],
  ['bt709', false, [16, 128, 128], [0, 0, 0]],
  ['bt709', false, [63, 102, 240], [255, 0, 0]],
  ['bt709', false, [32, 240, 118], [0, 0, 255]],
  ['bt601', false, [82, 90, 240], [255, 0, 0]],
  ['bt709', true, [128, 128, 128], [128, 128, 128]],
] as const)(
  'planes of %s, full range %s, %j are shown as they were meant',
  (matrix, isFullRange, code, rgb) => {
    show({ matrix, isFullRange }, code).forEach((side, index) =>
      expect(Math.abs(side - (rgb[index] ?? 0))).toBeLessThanOrEqual(2),
    );
  },
);

/** A frame of three by two points, its bytes laid out as decoders lay them, lines of four and more bytes. */
function stubFrame(format: string, bytes: readonly number[], layout: Planes['luma'][]) {
  vi.stubGlobal(
    'VideoFrame',
    class {
      readonly format = format;
      readonly visibleRect = { width: 3, height: 2 };
      readonly colorSpace = { matrix: 'bt709', fullRange: false };
      allocationSize = () => bytes.length;
      copyTo = (to: Uint8Array) => {
        to.set(bytes);
        return Promise.resolve(layout);
      };
      close = vi.fn();
    },
  );
}
const LUMA = [1, 2, 3, 0, 4, 5, 6, 0];
const read = async () => {
  const planes = await readPlanes({} as VideoFrame);
  if (!planes) return null;
  const { data, luma, blue, red } = planes;
  const take = ({ offset, stride }: Planes['luma'], w: number, h: number) =>
    Array.from({ length: h }, (_, y) => [...data.slice(offset + y * stride, offset + y * stride + w)]);
  return [take(luma, 3, 2), take(blue, 2, 1), take(red, 2, 1)];
};
const EXPECTED = [
  [
    [1, 2, 3],
    [4, 5, 6],
  ],
  [[70, 71]],
  [[80, 81]],
];

it('colors are read where they have planes of their own, and where they come by turns', async () => {
  const luma = { offset: 0, stride: 4 };
  stubFrame('I420', [...LUMA, 70, 71, 80, 81], [luma, { offset: 8, stride: 2 }, { offset: 10, stride: 2 }]);
  expect(await read()).toEqual(EXPECTED);
  stubFrame('NV12', [...LUMA, 70, 80, 71, 81], [luma, { offset: 8, stride: 4 }]);
  expect(await read()).toEqual(EXPECTED);
});

it('another layout is left to the browser', async () => {
  stubFrame('RGBA', LUMA, [{ offset: 0, stride: 4 }]);
  expect(await read()).toBeNull();
});
