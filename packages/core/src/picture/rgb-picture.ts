import type { SizePx } from '../geometry/turn.ts';

/** A picture in memory: `bands` bytes a point (3 or 4), rows from the top, as a standard display shows it. */
export interface RgbPicture extends SizePx {
  readonly bytes: Uint8Array | Uint8ClampedArray;
  readonly bands: 3 | 4;
}

/** One byte of brightness a point, rows from the top. */
export interface LumaPicture extends SizePx {
  readonly luma: Uint8Array;
}

/** Weights of BT.709 (Rec. ITU-R BT.709-6, 3.2), in 1/256. */
const [RED, GREEN, BLUE] = [54, 183, 19];

export function convertRgbToLuma({ widthPx, heightPx, bytes, bands }: RgbPicture): LumaPicture {
  const luma = new Uint8Array(widthPx * heightPx);
  for (let point = 0, at = 0; point < luma.length; point += 1, at += bands)
    luma[point] =
      (RED * (bytes[at] ?? 0) + GREEN * (bytes[at + 1] ?? 0) + BLUE * (bytes[at + 2] ?? 0) + 128) >> 8;
  return { widthPx, heightPx, luma };
}

/** Averages areas down to `size`, which is no larger than the picture on either edge. */
export function shrinkLuma(picture: LumaPicture, size: SizePx): LumaPicture {
  const { widthPx, heightPx, luma } = picture;
  const small = new Uint8Array(size.widthPx * size.heightPx);
  for (let row = 0; row < size.heightPx; row += 1) {
    const top = Math.floor((row * heightPx) / size.heightPx);
    const bottom = Math.max(top + 1, Math.floor(((row + 1) * heightPx) / size.heightPx));
    for (let column = 0; column < size.widthPx; column += 1) {
      const left = Math.floor((column * widthPx) / size.widthPx);
      const right = Math.max(left + 1, Math.floor(((column + 1) * widthPx) / size.widthPx));
      let sum = 0;
      for (let y = top; y < bottom; y += 1)
        for (let x = left; x < right; x += 1) sum += luma[y * widthPx + x] ?? 0;
      small[row * size.widthPx + column] = Math.round(sum / ((bottom - top) * (right - left)));
    }
  }
  return { ...size, luma: small };
}

/** Averages areas down to `size`, which is no larger than the picture on either edge; three bands. */
export function shrinkRgb({ widthPx, heightPx, bytes, bands }: RgbPicture, size: SizePx): RgbPicture {
  const small = new Uint8Array(size.widthPx * size.heightPx * 3);
  const edges = (edge: number, count: number) =>
    Int32Array.from({ length: count + 1 }, (_, at) => Math.floor((at * edge) / count));
  const [xs, ys] = [edges(widthPx, size.widthPx), edges(heightPx, size.heightPx)];
  for (let row = 0; row < size.heightPx; row += 1)
    for (let column = 0; column < size.widthPx; column += 1) {
      const [left, top] = [xs[column] as number, ys[row] as number];
      const right = Math.max(left + 1, xs[column + 1] as number);
      const bottom = Math.max(top + 1, ys[row + 1] as number);
      for (let side = 0; side < 3; side += 1) {
        let sum = 0;
        for (let y = top; y < bottom; y += 1)
          for (let x = left; x < right; x += 1) sum += bytes[(y * widthPx + x) * bands + side] ?? 0;
        small[(row * size.widthPx + column) * 3 + side] = Math.round(sum / ((bottom - top) * (right - left)));
      }
    }
  return { ...size, bytes: small, bands: 3 };
}

/** Mean of the differences of two pictures of one size, 0 to 255. */
export function compareLuma(left: LumaPicture, right: LumaPicture): number {
  let sum = 0;
  for (let point = 0; point < left.luma.length; point += 1)
    sum += Math.abs((left.luma[point] ?? 0) - (right.luma[point] ?? 0));
  return sum / Math.max(1, left.luma.length);
}
