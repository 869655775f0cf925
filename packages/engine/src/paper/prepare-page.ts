import {
  createPlainRecipe,
  flatSize,
  flattenSeen,
  planRender,
  renderPicture,
  seePiece,
  SURE_CONFIDENCE,
  type DeepPicture,
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
/** A sheet smaller than this holds no letters that can be read. */
const LEAST_PX = 200;

/**
 * A photograph upright, grey and evenly lit, cut to the sheet where one is seen, as PNG. Throws
 * `TOO_MANY_PIXELS`, `DAMAGED` or `TRUNCATED`.
 */
export async function preparePage(path: string, container: string): Promise<Buffer> {
  try {
    const upright = (await openPhoto(path, container)).flatten({ background: '#fff' }).toColourspace('srgb');
    const { data, info } = await upright
      .resize({ width: PAGE_PX, height: PAGE_PX, fit: 'inside' })
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const photo: DeepPicture = { levels: data, most: 255, widthPx: info.width, heightPx: info.height };
    const { levels, widthPx: width, heightPx: height } = await layFlat(photo);
    const raw = { width, height, channels: 3 as const };
    const grey = await sharp(levels, { raw }).greyscale().raw().toBuffer();
    return await evenLight(darkOnLight(grey), { ...raw, channels: 1 });
  } catch (error) {
    throw explainPhotoError(error);
  }
}

/** The sheet that is surely seen in a photograph as a rectangle in its true proportions; else all of it. */
async function layFlat(photo: DeepPicture): Promise<DeepPicture> {
  const raw = { width: photo.widthPx, height: photo.heightPx, channels: 3 as const };
  const { data, info } = await sharp(photo.levels, { raw })
    .resize({ width: LOOK_PX, height: LOOK_PX, fit: 'inside' })
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const seen = seePiece({ luma: new Uint8Array(data), widthPx: info.width, heightPx: info.height });
  if (!seen || seen.confidence < SURE_CONFIDENCE) return photo;
  const flatten = flattenSeen(seen);
  const flat = flatSize(photo, flatten);
  const share = Math.min(1, PAGE_PX / Math.max(flat.widthPx, flat.heightPx));
  const size = {
    widthPx: Math.round(flat.widthPx * share),
    heightPx: Math.round(flat.heightPx * share),
  };
  if (Math.min(size.widthPx, size.heightPx) < LEAST_PX) return photo;
  const wish = { ...createPlainRecipe().picture, flatten };
  return { ...size, most: 255, levels: renderPicture(planRender(photo, wish, size).fill(photo)) };
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
