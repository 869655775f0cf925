import {
  applyProjective,
  mapSquareTo,
  seePiece,
  SURE_CONFIDENCE,
  type LumaPicture,
  type Quad,
} from '@apodix/core';
import sharp from 'sharp';
import { explainPhotoError, openPhoto } from '../photo/open-photo.ts';

/** Longest edge that the recogniser is given: letters of a page are then 25 points and more high. */
export const PAGE_PX = 2600;
/** Edge of a patch that is wider than letters' strokes and narrower than shadows. */
const PATCH_PX = 40;
/** Paper under a lamp at night is brighter than this, the ground of a dark slide is not. */
const DARK_GROUND = 80;
/** Corners are looked for in a picture of this size. */
const LOOK_PX = 900;

/**
 * A photograph upright, grey and evenly lit, cut to the sheet where one is seen, as PNG. Throws
 * `TOO_MANY_PIXELS`, `DAMAGED` or `TRUNCATED`.
 */
export async function preparePage(path: string, container: string): Promise<Buffer> {
  try {
    const upright = await openPhoto(path, container);
    const { data, info } = await upright
      .flatten({ background: '#fff' })
      .greyscale()
      .resize({ width: PAGE_PX, height: PAGE_PX, fit: 'inside' })
      .raw()
      .toBuffer({ resolveWithObject: true });
    const luma: LumaPicture = { luma: new Uint8Array(data), widthPx: info.width, heightPx: info.height };
    const flat = layFlat(luma, await findSheet(luma)) ?? luma;
    const size = { width: flat.widthPx, height: flat.heightPx, channels: 1 as const };
    return await evenLight(darkOnLight(flat.luma), size);
  } catch (error) {
    throw explainPhotoError(error);
  }
}

/** A slide with light letters on a dark ground the other way round; anything else as it is. */
function darkOnLight(luma: Uint8Array): Buffer {
  const counts = new Uint32Array(256);
  for (const value of luma) counts[value] = (counts[value] ?? 0) + 1;
  let [median, below] = [0, counts[0] ?? 0];
  while (below < luma.length / 2) below += counts[(median += 1)] ?? 0;
  return Buffer.from(median < DARK_GROUND ? luma.map((value) => 255 - value) : luma);
}

interface Raw {
  readonly width: number;
  readonly height: number;
  readonly channels: 1;
}

/** Paper is white everywhere after its own brightness, seen broadly, is divided out. */
async function evenLight(luma: Buffer, raw: Raw): Promise<Buffer> {
  // The brightest of each patch is its paper; letters are narrower than a patch. One step each: of two sizes
  // in one pipeline the last counts.
  const [columns, rows] = [raw.width, raw.height].map((edge) => Math.max(4, Math.round(edge / PATCH_PX))) as [
    number,
    number,
  ];
  const patches = Buffer.alloc(columns * rows);
  for (let row = 0; row < raw.height; row += 1)
    for (let column = 0; column < raw.width; column += 1) {
      const at = Math.floor((row * rows) / raw.height) * columns + Math.floor((column * columns) / raw.width);
      patches[at] = Math.max(patches[at] ?? 0, luma[row * raw.width + column] ?? 0);
    }
  const smooth = await sharp(patches, { raw: { width: columns, height: rows, channels: 1 } })
    .blur(1)
    .greyscale()
    .raw()
    .toBuffer();
  const broad = await sharp(smooth, { raw: { width: columns, height: rows, channels: 1 } })
    .resize({ width: raw.width, height: raw.height, fit: 'fill', kernel: 'cubic' })
    .greyscale()
    .raw()
    .toBuffer();
  const even = Buffer.alloc(luma.length);
  for (let at = 0; at < luma.length; at += 1)
    even[at] = Math.min(255, Math.round(((luma[at] ?? 0) * 235) / Math.max(24, broad[at] ?? 255)));
  return sharp(even, { raw }).withMetadata({ density: 300 }).png({ compressionLevel: 1 }).toBuffer();
}

async function findSheet({ luma, widthPx, heightPx }: LumaPicture): Promise<Quad | null> {
  const raw = { width: widthPx, height: heightPx, channels: 1 as const };
  const { data, info } = await sharp(Buffer.from(luma), { raw })
    .resize({ width: LOOK_PX, height: LOOK_PX, fit: 'inside' })
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const seen = seePiece({ luma: new Uint8Array(data), widthPx: info.width, heightPx: info.height });
  if (!seen || seen.confidence < SURE_CONFIDENCE) return null;
  return seen.corners as unknown as Quad;
}

/** The part within four corners (shares of the picture) as a rectangle; null without corners. */
function layFlat({ luma, widthPx, heightPx }: LumaPicture, corners: Quad | null): LumaPicture | null {
  if (!corners) return null;
  const [p, q, r, s] = corners.map(({ x, y }) => ({
    x: x * widthPx - 0.5,
    y: y * heightPx - 0.5,
  })) as unknown as Quad;
  const length = (one: { x: number; y: number }, other: { x: number; y: number }) =>
    Math.hypot(one.x - other.x, one.y - other.y);
  const width = Math.round(Math.max(length(p, q), length(s, r)));
  const height = Math.round(Math.max(length(p, s), length(q, r)));
  if (width < 200 || height < 200) return null;
  const map = mapSquareTo([p, q, r, s]);
  const flat = new Uint8Array(width * height);
  for (let row = 0; row < height; row += 1)
    for (let column = 0; column < width; column += 1) {
      const { x, y } = applyProjective(map, { x: (column + 0.5) / width, y: (row + 0.5) / height });
      flat[row * width + column] = sampleLinear(luma, widthPx, heightPx, x, y);
    }
  return { luma: flat, widthPx: width, heightPx: height };
}

function sampleLinear(luma: Uint8Array, width: number, height: number, x: number, y: number): number {
  const [left, top] = [
    Math.max(0, Math.min(width - 2, Math.floor(x))),
    Math.max(0, Math.min(height - 2, Math.floor(y))),
  ];
  const [u, v] = [Math.max(0, Math.min(1, x - left)), Math.max(0, Math.min(1, y - top))];
  const at = top * width + left;
  const upper = (luma[at] ?? 0) * (1 - u) + (luma[at + 1] ?? 0) * u;
  const lower = (luma[at + width] ?? 0) * (1 - u) + (luma[at + width + 1] ?? 0) * u;
  return Math.round(upper * (1 - v) + lower * v);
}
