import type { LampScene } from './lamp-scene.ts';

type Rgb = readonly [number, number, number];

/** Published averages of the usual 24-patch target in eight-bit sRGB, row after row. */
const PATCHES: readonly Rgb[] = [
  [115, 82, 68],
  [194, 150, 130],
  [98, 122, 157],
  [87, 108, 67],
  [133, 128, 177],
  [103, 189, 170],
  [214, 126, 44],
  [80, 91, 166],
  [193, 90, 99],
  [94, 60, 108],
  [157, 188, 64],
  [224, 163, 46],
  [56, 61, 150],
  [70, 148, 73],
  [175, 54, 60],
  [231, 199, 31],
  [187, 86, 149],
  [8, 133, 161],
  [243, 243, 242],
  [200, 200, 200],
  [160, 160, 160],
  [122, 122, 121],
  [85, 85, 85],
  [52, 52, 52],
];

const toLight = (level: number) => {
  const signal = level / 255;
  return signal <= 0.04045 ? signal / 12.92 : ((signal + 0.055) / 1.055) ** 2.4;
};

/** Light that a patch has in daylight. */
export const readPatch = (index: number): Rgb => {
  const [red, green, blue] = PATCHES[index] ?? [0, 0, 0];
  return [toLight(red), toLight(green), toLight(blue)];
};

/** A card of 24 patches on black: gaps and a rim about each of so much of a patch. */
export const drawTarget: LampScene['piece'] = (u, v) => {
  const RIM = 0.1;
  const [x, y] = [u * (6 + RIM) - RIM / 2, v * (4 + RIM) - RIM / 2];
  const [column, row] = [Math.floor(x), Math.floor(y)];
  const isGap = [x - column, y - row].some((share) => share < RIM || share > 1 - RIM);
  if (isGap || column < 0 || row < 0 || column > 5 || row > 3) return [0.02, 0.02, 0.02];
  return readPatch(row * 6 + column);
};
