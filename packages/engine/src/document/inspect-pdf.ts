import { ApodixError, type SizePx } from '@apodix/core';
import exifr from 'exifr';
import { readFile } from 'node:fs/promises';
import { PDFDict, PDFName, PDFRawStream, type PDFDocument } from 'pdf-lib';
import type { z } from 'zod';
import type { PhotoInspected } from '../still/photo-request.ts';
import { listPictures, openPdf, type PdfPicture } from './open-pdf.ts';
import { drawPagesSmall } from './rasterize-pdf.ts';

/** Pages without a picture are taken as drawn at this resolution. */
const PAGE_DPI = 150;
const POINTS_PER_INCH = 72;

/**
 * Measures a document: its pages, and of the largest picture inside the size as it is shown (that of the
 * first page at 150 dpi where there is none). Every page is drawn to see that it can be read.
 */
export async function inspectPdf(
  path: string,
  wantedSmall: SizePx | null,
): Promise<z.infer<typeof PhotoInspected>> {
  const document = await openPdf(await readFile(path));
  const pageCount = document.getPageCount();
  const small = wantedSmall ?? SMALL_PAGE;
  const pages = await drawPagesSmall(path, small);
  if (pages.count !== pageCount)
    throw new ApodixError('DAMAGED', { detail: `Of ${pageCount} pages ${pages.count} can be read.` });
  const pictures = listPictures(document);
  const largest = pictures[0];
  const page = document.getPage(0);
  const isTurned = page.getRotation().angle % 180 !== 0;
  const [width, height] = largest
    ? [largest.widthPx, largest.heightPx]
    : [toPixels(page.getWidth()), toPixels(page.getHeight())];
  return {
    photo: null,
    document: {
      pageCount,
      widthPx: isTurned ? height : width,
      heightPx: isTurned ? width : height,
      pictureCodec: largest ? (largest.coding === 'jpeg' ? 'jpeg' : 'packed') : null,
      pictureCount: pictures.length,
    },
    ...(await readPrivateFacts(document, pictures)),
    blur: null,
    small: { ...small, rgb: pages.rgb },
  };
}

/** Every page is held against that of the recording at this size, whatever its proportions. */
const SMALL_PAGE: SizePx = { widthPx: 72, heightPx: 96 };

function toPixels(points: number): number {
  return Math.max(1, Math.round((points / POINTS_PER_INCH) * PAGE_DPI));
}

/** When it was written, and whether pictures or metadata inside tell a place or the serial of a camera. */
async function readPrivateFacts(
  document: PDFDocument,
  pictures: readonly PdfPicture[],
): Promise<{ captureTime: string | null; locationPresent: boolean; deviceSerialPresent: boolean }> {
  let [locationPresent, deviceSerialPresent] = [false, false];
  for (const picture of pictures.filter((each) => each.coding === 'jpeg')) {
    const tags = (await exifr
      .parse(Buffer.from(picture.stream.contents), { tiff: true, exif: true, gps: true, xmp: true })
      .catch(() => undefined)) as Record<string, unknown> | undefined;
    const names = Object.keys(tags ?? {});
    locationPresent ||= names.some((name) => /^(GPS|latitude$|longitude$)/i.test(name));
    deviceSerialPresent ||= names.some(
      (name) => /serial/i.test(name) && String(tags?.[name] ?? '').trim() !== '',
    );
  }
  for (const [, object] of document.context.enumerateIndirectObjects()) {
    if (
      object instanceof PDFRawStream &&
      object.dict.get(PDFName.of('Type')) === PDFName.of('Metadata') &&
      /GPSLatitude|exif:GPS/i.test(Buffer.from(object.contents).toString('latin1'))
    )
      locationPresent = true;
  }
  const info = document.context.lookup(document.context.trailerInfo.Info);
  const created = info instanceof PDFDict ? document.getCreationDate() : undefined;
  return {
    captureTime: created && !Number.isNaN(created.getTime()) ? created.toISOString() : null,
    locationPresent,
    deviceSerialPresent,
  };
}
