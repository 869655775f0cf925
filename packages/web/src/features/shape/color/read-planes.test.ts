import { expect, it } from 'vitest';
import { buildPlaneMatrix } from './read-planes.ts';

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
