import { ApodixError } from '@apodix/core';
import { convertBmpToPng } from './convert-bmp.ts';
import { rasterizeFirstPage } from '../document/rasterize-pdf.ts';
import { createRequire } from 'node:module';
import { readFile } from 'node:fs/promises';
import { deflateSync } from 'node:zlib';
import sharp, { type Sharp } from 'sharp';
import { buildPngChunk } from '../still/png-chunks.ts';

/** Pictures that unpack to more points than this are refused before they are unpacked. */
export const MOST_PIXELS = 200_000_000;
/** Long edge of a drawn page where nothing else is asked for. */
const USUAL_PAGE_PX = 2400;
const SHARP_OPTIONS = {
  limitInputPixels: MOST_PIXELS,
  failOn: 'error',
  sequentialRead: true,
  unlimited: false,
} as const;

interface HeifImage {
  get_width(): number;
  get_height(): number;
  display(
    target: { data: Uint8ClampedArray; width: number; height: number },
    done: (result: unknown) => void,
  ): void;
  free?(): void;
}
interface HeifLibrary {
  HeifDecoder: new () => { decode(bytes: Uint8Array): HeifImage[] };
}

/**
 * Opens a photograph as an upright picture in its own color profile. HEIC goes through libheif (which applies
 * the file's own turning), of a PDF the first page is drawn with `longEdgePx`, everything else goes through
 * libvips. Throws `TOO_MANY_PIXELS`, `DAMAGED` or `TRUNCATED`.
 */
export async function openPhoto(path: string, container: string, longEdgePx = USUAL_PAGE_PX): Promise<Sharp> {
  if (container === 'pdf') return sharp(await rasterizeFirstPage(path, longEdgePx), SHARP_OPTIONS);
  if (container === 'heic') return openHeic(await readFile(path));
  return sharp(await findReadable(path, container), SHARP_OPTIONS).autoOrient();
}

/** What libvips can read of a picture: its path, or for BMP the same points as PNG. */
export async function findReadable(path: string, container: string): Promise<string | Buffer> {
  return container === 'bmp' ? convertBmpToPng(path) : path;
}

/** Turns what sharp throws into the fault that a person is told. */
export function explainPhotoError(error: unknown): ApodixError {
  if (error instanceof ApodixError) return error;
  const text = error instanceof Error ? error.message : String(error);
  if (/pixel limit|exceeds/i.test(text)) return new ApodixError('TOO_MANY_PIXELS', { cause: error });
  if (/premature|truncat|ended|end of|not enough|unexpected end/i.test(text))
    return new ApodixError('TRUNCATED', { cause: error });
  if (/ENOSPC|no space/i.test(text)) return new ApodixError('NO_DISK_SPACE', { cause: error });
  return new ApodixError('DAMAGED', { cause: error });
}

async function openHeic(bytes: Buffer): Promise<Sharp> {
  const size = findLargestHeifExtent(bytes);
  if (size && size.widthPx * size.heightPx > MOST_PIXELS) throw new ApodixError('TOO_MANY_PIXELS');
  const library = createRequire(import.meta.url)('libheif-js/wasm-bundle') as HeifLibrary;
  const images = new library.HeifDecoder().decode(bytes);
  const image = images[0];
  if (!image) throw new ApodixError('DAMAGED', { detail: 'There is no picture inside.' });
  const width = image.get_width();
  const height = image.get_height();
  if (width * height > MOST_PIXELS) throw new ApodixError('TOO_MANY_PIXELS');
  const data = new Uint8ClampedArray(width * height * 4);
  await new Promise<void>((resolve, reject) => {
    image.display({ data, width, height }, (result) =>
      result ? resolve() : reject(new ApodixError('DAMAGED')),
    );
  });
  image.free?.();
  const raw = sharp(Buffer.from(data.buffer), {
    raw: { width, height, channels: 4 },
    limitInputPixels: MOST_PIXELS,
  }).removeAlpha();
  const profile = findHeifProfile(bytes);
  if (!profile) return raw;
  const png = await raw.png({ compressionLevel: 0 }).toBuffer();
  return sharp(insertPngProfile(png, profile), { limitInputPixels: MOST_PIXELS });
}

/** The largest image extent (`ispe`, ISO/IEC 23008-12 6.5.3) that a HEIF file declares. */
export function findLargestHeifExtent(bytes: Buffer): { widthPx: number; heightPx: number } | null {
  let largest: { widthPx: number; heightPx: number } | null = null;
  for (
    let at = bytes.indexOf('ispe');
    at >= 0 && at + 16 <= bytes.length;
    at = bytes.indexOf('ispe', at + 4)
  ) {
    const found = { widthPx: bytes.readUInt32BE(at + 8), heightPx: bytes.readUInt32BE(at + 12) };
    if (!largest || found.widthPx * found.heightPx > largest.widthPx * largest.heightPx) largest = found;
  }
  return largest;
}

/** The ICC profile of a HEIF file: box `colr` of type `prof` (ISO/IEC 14496-12 12.1.5). */
export function findHeifProfile(bytes: Buffer): Buffer | null {
  for (let at = bytes.indexOf('colrprof'); at >= 4; at = bytes.indexOf('colrprof', at + 8)) {
    const size = bytes.readUInt32BE(at - 4);
    const profile = bytes.subarray(at + 8, at - 4 + size);
    if (profile.length > 128 && profile.toString('latin1', 36, 40) === 'acsp') return profile;
  }
  return null;
}

/** Puts an `iCCP` chunk (PNG, third edition, 11.3.2.3) right after the header of a PNG. */
function insertPngProfile(png: Buffer, profile: Buffer): Buffer {
  const AFTER_HEADER = 33;
  const chunk = buildPngChunk(
    'iCCP',
    Buffer.concat([Buffer.from('icc\0\0', 'latin1'), deflateSync(profile)]),
  );
  return Buffer.concat([png.subarray(0, AFTER_HEADER), chunk, png.subarray(AFTER_HEADER)]);
}
