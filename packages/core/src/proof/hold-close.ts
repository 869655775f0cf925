import { isPlainColor } from '../color/color-settings.ts';
import { buildColorTable } from '../color/color-table.ts';
import { readColorTable } from '../color/read-table.ts';
import { measureLuma } from '../color/standard-look.ts';
import { findInPhoto, flatSize } from '../geometry/flatten.ts';
import { measureBars } from '../geometry/frame.ts';
import type { Point } from '../geometry/projective.ts';
import type { SizePx } from '../geometry/turn.ts';
import { buildGains } from '../light/even-light.ts';
import type { PictureWish } from '../recipe/picture-wish.ts';
import { transferFunctions } from '../color/transfer.ts';

/** Eight bits, R, G, B, row after row, upright, in sRGB. */
export interface ClosePicture extends SizePx {
  readonly rgb: Uint8Array;
}

/** Structural similarity at places all over a picture. */
export interface CloseMatch {
  readonly ssimMean: number;
  readonly ssimWorst: number;
  /** How many places were looked at. */
  readonly places: number;
}

const [COLUMNS, ROWS] = [4, 4];
/** Edge of a place, in points of the made file. */
const EDGE = 64;
/** Windows of structural similarity, and how far they lie apart. */
const [WINDOW, STEP] = [8, 4];
const [C1, C2] = [(0.01 * 255) ** 2, (0.03 * 255) ** 2];
const REACH = 3;

/**
 * How much of a made picture is that of the photograph it was made from, point by point at its own size:
 * sixteen places, each brought from the photograph by inverse geometry with a windowed sinc of 36 points,
 * through the light and the table of the recipe, and held against the file by structural similarity (Wang,
 * Bovik, Sheikh and Simoncelli 2004). `photo` may be reduced; `photoPx` is its own size. null for a picture
 * too small to have such places.
 */
export function holdClose(input: {
  readonly photo: ClosePicture;
  readonly photoPx: SizePx;
  readonly made: ClosePicture;
  readonly wish: PictureWish;
}): CloseMatch | null {
  const { made } = input;
  const bars = measureBars(flatSize(input.photoPx, input.wish.flatten), input.wish);
  const [w, h] = [made.widthPx * (1 - 2 * bars.x), made.heightPx * (1 - 2 * bars.y)];
  const edge = Math.floor(Math.min(EDGE, w / 2, h / 2));
  if (edge < 2 * WINDOW) return null;
  const expect = buildExpected(input);
  const found: number[] = [];
  for (let row = 0; row < ROWS; row += 1)
    for (let column = 0; column < COLUMNS; column += 1) {
      const left = Math.round(made.widthPx * bars.x + ((w - edge) * column) / (COLUMNS - 1));
      const top = Math.round(made.heightPx * bars.y + ((h - edge) * row) / (ROWS - 1));
      const own = Float64Array.from({ length: edge * edge }, (_, at) =>
        readLuma(made, Math.min(made.widthPx - 1, left + (at % edge)), top + Math.floor(at / edge)),
      );
      const wanted = Float64Array.from({ length: edge * edge }, (_, at) =>
        expect(left + (at % edge), top + Math.floor(at / edge)),
      );
      found.push(measureSsim(own, wanted, edge));
    }
  return {
    ssimMean: found.reduce((sum, each) => sum + each, 0) / found.length,
    ssimWorst: Math.min(...found),
    places: found.length,
  };
}

function readLuma({ rgb, widthPx, heightPx }: ClosePicture, x: number, y: number): number {
  const at = (Math.min(heightPx - 1, y) * widthPx + x) * 3;
  return measureLuma(rgb[at] ?? 0, rgb[at + 1] ?? 0, rgb[at + 2] ?? 0);
}

/** Brightness that each point of the made file is to have. */
function buildExpected({ photo, photoPx, made, wish }: Parameters<typeof holdClose>[0]) {
  const find = findInPhoto(photoPx, wish);
  const table = wish.color && !isPlainColor(wish.color) ? buildColorTable(wish.color) : null;
  const toShares = ({ x, y }: Point) => ({ x: x / photoPx.widthPx, y: y / photoPx.heightPx });
  const gainAt = wish.light ? buildGains(wish.light, (share) => toShares(find(share))) : null;
  const { toLight, toSignal } = transferFunctions.srgb;
  const out = [0, 0, 0];
  return (x: number, y: number): number => {
    const share = { x: (x + 0.5) / made.widthPx, y: (y + 0.5) / made.heightPx };
    const place = toShares(find(share));
    const read = readSinc(photo, place.x * photo.widthPx - 0.5, place.y * photo.heightPx - 0.5);
    const gains = gainAt?.(share);
    const lit = gains
      ? read.map((value, side) => toSignal(Math.min(1, toLight(value) * (gains[side] ?? 1))))
      : read;
    const [red, green, blue] = [lit[0] ?? 0, lit[1] ?? 0, lit[2] ?? 0];
    if (!table) return 255 * measureLuma(red, green, blue);
    readColorTable(table, red, green, blue, out);
    return 255 * measureLuma(out[0] ?? 0, out[1] ?? 0, out[2] ?? 0);
  };
}

/** R, G and B, 0 to 1, at a place between points (Lanczos' window; C. Duchon, 1979). */
function readSinc({ rgb, widthPx, heightPx }: ClosePicture, x: number, y: number): number[] {
  const [left, top] = [Math.floor(x), Math.floor(y)];
  const [across, down] = [weighSinc(x - left), weighSinc(y - top)];
  const sums = [0, 0, 0];
  for (let line = 0; line < 2 * REACH; line += 1) {
    const row = Math.max(0, Math.min(heightPx - 1, top + line - REACH + 1)) * widthPx;
    for (let tap = 0; tap < 2 * REACH; tap += 1) {
      const at = (row + Math.max(0, Math.min(widthPx - 1, left + tap - REACH + 1))) * 3;
      const weight = (across[tap] as number) * (down[line] as number);
      for (let side = 0; side < 3; side += 1)
        sums[side] = (sums[side] as number) + weight * (rgb[at + side] as number);
    }
  }
  return sums.map((sum) => Math.max(0, Math.min(1, sum / 255)));
}

function weighSinc(share: number): number[] {
  const weights = Array.from({ length: 2 * REACH }, (_, tap) => {
    const t = Math.PI * (share - (tap - REACH + 1));
    return Math.abs(t) < 1e-9 ? 1 : (REACH * Math.sin(t) * Math.sin(t / REACH)) / (t * t);
  });
  const sum = weights.reduce((total, each) => total + each, 0);
  return weights.map((each) => each / sum);
}

function measureSsim(left: Float64Array, right: Float64Array, edge: number): number {
  let [total, count] = [0, 0];
  const points = WINDOW * WINDOW;
  for (let y = 0; y + WINDOW <= edge; y += STEP)
    for (let x = 0; x + WINDOW <= edge; x += STEP) {
      let [sumL, sumR, sumLL, sumRR, sumLR] = [0, 0, 0, 0, 0];
      for (let row = y; row < y + WINDOW; row += 1)
        for (let at = row * edge + x; at < row * edge + x + WINDOW; at += 1) {
          const [l, r] = [left[at] as number, right[at] as number];
          sumL += l;
          sumR += r;
          sumLL += l * l;
          sumRR += r * r;
          sumLR += l * r;
        }
      const [meanL, meanR] = [sumL / points, sumR / points];
      const [varL, varR] = [sumLL / points - meanL * meanL, sumRR / points - meanR * meanR];
      const both = sumLR / points - meanL * meanR;
      total +=
        ((2 * meanL * meanR + C1) * (2 * both + C2)) /
        ((meanL * meanL + meanR * meanR + C1) * (varL + varR + C2));
      count += 1;
    }
  return total / count;
}
