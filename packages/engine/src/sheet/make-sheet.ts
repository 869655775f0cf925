import {
  ApodixError,
  measureShaped,
  type MediaFacts,
  type Recipe,
  type Sheet,
  type SizePx,
} from '@apodix/core';
import { stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { runPhotoChild } from '../photo/run-photo-child.ts';
import type { OnProgress } from '../process/progress.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { findQuality, type FoundQuality, type QualityCoders } from '../still/find-quality.ts';
import { placeSheet, writeSheet } from './write-sheet.ts';

export interface SheetTake {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly recipe: Recipe;
}

export interface SheetInput {
  readonly sheet: Sheet;
  /** The photographs, in the order of the sheet's pieces. */
  readonly takes: readonly SheetTake[];
  /** What the file may have; null where nothing says. */
  readonly maxBytes: number | null;
  readonly outputPath: string;
  readonly scratchFolder: string;
  readonly signal?: AbortSignal;
  readonly onProgress?: OnProgress;
}

export interface MadeSheet {
  readonly pageCount: number;
  readonly sizeBytes: number;
  readonly quality: number;
  /** Points to the inch that the pictures have at the most. */
  readonly dpi: number;
}

/** What print is made for, and less where the bytes do not allow it. */
const RESOLUTIONS_DPI: readonly number[] = [300, 220, 150, 110, 72];
const BEST_QUALITY = 92;
/** Below it a coarser picture is the better one; at the coarsest this is the least. */
const LEAST_QUALITY = 70;
const HARD_LEAST_QUALITY = 35;
const FULL_CHROMA_FROM = 82;
/** What fonts, text and tables take beside the pictures, about. */
const FRAME_BYTES = 30_000;

/** Size of a photograph as its recipe leaves it. Throws `BAD_REQUEST` for anything but a photograph. */
export function measureShapedPhoto(facts: MediaFacts, recipe: Recipe): SizePx {
  if (!facts.photo)
    throw new ApodixError('BAD_REQUEST', { detail: 'Only photographs can stand on a sheet.' });
  return measureShaped(facts.photo, recipe.picture);
}

/**
 * Makes the PDF of a sheet: every photograph shaped by its own recipe, as fine as print needs where the bytes
 * allow it, else at a lower quality and then coarser. Throws `LIMITS_CANNOT_BE_MET` where even the coarsest
 * is too large, and what reading or coding a photograph throws.
 */
export function makeSheet(input: SheetInput): Promise<MadeSheet> {
  const { sheet, takes, maxBytes } = input;
  return withTemporaryFolder(input.scratchFolder, async (folder) => {
    const sizes = takes.map(({ facts, recipe }) => measureShapedPhoto(facts, recipe));
    const laid = placeSheet(sheet, sizes);
    const boxes = laid.pages.flat().filter((placed) => placed.kind === 'picture');
    const shaped: string[] = [];
    for (const [index, take] of takes.entries()) {
      input.onProgress?.({
        stage: 'Shaping the photographs',
        share: (0.8 * index) / takes.length,
        secondsLeft: null,
      });
      const box = boxes.find(({ piece }) => piece === index);
      const size = sizes[index];
      if (!box || !size) throw new TypeError('Every piece has its place.');
      const path = join(folder, `${index}.tiff`);
      await shapePhoto(take, limitSize(size, box.widthPt, RESOLUTIONS_DPI[0] ?? 300), path, input.signal);
      shaped.push(path);
    }
    input.onProgress?.({ stage: 'Writing the pages', share: 0.85, secondsLeft: null });
    const code = (dpi: number, quality: number, isReal: boolean) =>
      Promise.all(
        shaped.map((path, index) => {
          const [size, box] = [sizes[index], boxes.find(({ piece }) => piece === index)];
          if (!size || !box) throw new TypeError('Every piece has its place.');
          return codePicture(path, limitSize(size, box.widthPt, dpi), quality, isReal);
        }),
      );
    const found = await findFitting(
      (dpi) => ({
        code: async (quality) => writeSheet(sheet, laid, await code(dpi, quality, true)),
        probe: async (quality) =>
          (await code(dpi, quality, false)).reduce((sum, { length }) => sum + length, FRAME_BYTES),
        sizeOf: ({ length }) => length,
      }),
      maxBytes,
    );
    await writeFile(input.outputPath, found.coded);
    return {
      pageCount: laid.pages.length,
      sizeBytes: (await stat(input.outputPath)).size,
      quality: found.quality,
      dpi: found.dpi,
    };
  });
}

/** The finest resolution at which some quality fits, and there the best quality that does. */
async function findFitting(
  buildCoders: (dpi: number) => QualityCoders<Buffer>,
  maxBytes: number | null,
): Promise<FoundQuality<Buffer> & { readonly dpi: number }> {
  for (const dpi of RESOLUTIONS_DPI) {
    const isLast = dpi === RESOLUTIONS_DPI.at(-1);
    const least = isLast ? HARD_LEAST_QUALITY : LEAST_QUALITY;
    const found = await findQuality(buildCoders(dpi), maxBytes, least, BEST_QUALITY);
    if (found.fits) return { ...found, dpi };
  }
  throw new ApodixError('LIMITS_CANNOT_BE_MET', {
    detail: 'Even with coarse pictures this sheet takes more bytes than are allowed. Leave out a photograph.',
  });
}

/** As many points as a box takes at a resolution, and no more than there are. */
function limitSize(size: SizePx, widthPt: number, dpi: number): SizePx {
  const scale = Math.min(1, ((widthPt / 72) * dpi) / size.widthPx);
  return {
    widthPx: Math.max(1, Math.round(size.widthPx * scale)),
    heightPx: Math.max(1, Math.round(size.heightPx * scale)),
  };
}

async function shapePhoto(
  { path, facts, recipe }: SheetTake,
  { widthPx, heightPx }: SizePx,
  outputPath: string,
  signal?: AbortSignal,
): Promise<void> {
  await runPhotoChild(
    {
      task: 'render',
      path,
      container: facts.container,
      picture: recipe.picture,
      widthPx,
      heightPx,
      leastShortEdgePx: Math.min(widthPx, heightPx),
      maxBytes: null,
      format: 'tiff',
      outputPath,
    },
    signal,
  );
}

function codePicture(
  path: string,
  { widthPx, heightPx }: SizePx,
  quality: number,
  isReal: boolean,
): Promise<Buffer> {
  return sharp(path)
    .resize({ width: widthPx, height: heightPx, fit: 'fill', kernel: 'lanczos3' })
    .jpeg({ quality, mozjpeg: isReal, chromaSubsampling: quality >= FULL_CHROMA_FROM ? '4:4:4' : '4:2:0' })
    .toBuffer();
}
