import { ApodixError, type About } from '@apodix/core';
import { readFile, writeFile } from 'node:fs/promises';
import {
  concatTransformationMatrix,
  degrees,
  PDFArray,
  PDFBool,
  PDFDict,
  PDFDocument,
  PDFName,
  PDFNumber,
  PDFRawStream,
  PDFRef,
  PDFStream,
  popGraphicsState,
  pushGraphicsState,
} from 'pdf-lib';
import sharp from 'sharp';
import { findQuality } from '../still/find-quality.ts';
import type { PhotoRendered, PhotoRequest } from '../still/photo-request.ts';
import { stripJpeg } from './jpeg-segments.ts';
import { listPictures, openPdf, openPicture, type PdfPicture } from './open-pdf.ts';

type RenderRequest = Extract<PhotoRequest, { task: 'render' }>;

/** A4 in points (ISO 216). */
const A4_LONG_PT = 841.89;
const A4_SHORT_PT = 595.276;
const BEST_QUALITY = 90;
const LEAST_QUALITY = 55;
const HARD_LEAST_QUALITY = 30;
const FULL_CHROMA_FROM = 82;
/** Smaller pictures are signs and lines: they are not made smaller. */
const LEAST_SHRUNK_PX = 200;
/** What a page and its tables take around the picture. */
const FRAME_BYTES = 1400;

/** The same with what is told about the piece, which is written in two bytes a letter, as figures. */
export const measureFrame = (about: About | null) =>
  FRAME_BYTES + (about ? 4 * Object.values(about).join('').length + 60 : 0);

/** A document of one page that a JPEG fills, as large as it fits on A4. The JPEG goes in as it is. */
export async function wrapInPdf(
  jpeg: Uint8Array,
  size: { readonly widthPx: number; readonly heightPx: number },
  about: About | null,
): Promise<Uint8Array> {
  const document = await PDFDocument.create({ updateMetadata: false });
  if (about?.title.trim()) document.setTitle(about.title.trim());
  if (about?.artist.trim()) document.setAuthor(about.artist.trim());
  // A document has no field of its own for rights: its subject is what programs show.
  if (about?.rights.trim()) document.setSubject(about.rights.trim());
  const picture = await document.embedJpg(jpeg);
  const [long, short] = [Math.max(size.widthPx, size.heightPx), Math.min(size.widthPx, size.heightPx)];
  const scale = Math.min(A4_LONG_PT / long, A4_SHORT_PT / short);
  const [width, height] = [size.widthPx * scale, size.heightPx * scale];
  const page = document.addPage([width, height]);
  page.drawImage(picture, { x: 0, y: 0, width, height });
  return document.save({ useObjectStreams: true });
}

/**
 * A document without private data that fits the bytes: as it is where that is enough, else its pictures are
 * coded again, first at a lower quality, then smaller. Text and drawings stay as they are.
 */
export async function fitPdf(request: RenderRequest): Promise<PhotoRendered> {
  const bytes = await readFile(request.path);
  const pictures = listPictures(await openPdf(bytes));
  const sourceLong = Math.max(1, pictures[0]?.widthPx ?? 0, pictures[0]?.heightPx ?? 0);
  const upright = {
    long: Math.max(request.widthPx, request.heightPx),
    short: Math.min(request.widthPx, request.heightPx),
  };
  const mostScale = Math.min(1, upright.long / sourceLong);
  const leastScale = Math.min(mostScale, (mostScale * request.leastShortEdgePx) / upright.short);
  const finish = async (
    saved: Uint8Array,
    quality: number | null,
    scale: number,
    probes: number,
  ): Promise<PhotoRendered> => {
    await writeFile(request.outputPath, saved);
    const ratio = scale / mostScale;
    return {
      widthPx: Math.round(request.widthPx * ratio),
      heightPx: Math.round(request.heightPx * ratio),
      quality,
      sizeBytes: saved.length,
      probes,
      fits: request.maxBytes === null || saved.length <= request.maxBytes,
    };
  };
  if (mostScale === 1) {
    const asItIs = await saveWith(bytes, request, new Map());
    if (request.maxBytes === null || asItIs.length <= request.maxBytes) return finish(asItIs, null, 1, 0);
  }
  const coded = pictures.filter((picture) => picture.coding !== null);
  let probes = 0;
  for (let scale = mostScale; ;) {
    const open = holdPoints(scale);
    const coders = {
      code: async (quality: number) => {
        const anew = new Map<PDFRef, CodedPicture>();
        for (const picture of coded)
          anew.set(picture.ref, await codePoints(await open(picture), quality, true));
        return saveWith(bytes, request, anew);
      },
      probe: async (quality: number) => {
        let sum = FRAME_BYTES;
        for (const picture of coded)
          sum += (await codePoints(await open(picture), quality, false)).bytes.length;
        return sum;
      },
      sizeOf: (saved: Uint8Array) => saved.length,
    };
    const isLast = scale <= leastScale * 1.001 || coded.length === 0;
    const found = await findQuality(
      coders,
      request.maxBytes,
      isLast ? HARD_LEAST_QUALITY : LEAST_QUALITY,
      BEST_QUALITY,
    );
    probes += found.probes;
    if (found.fits || isLast) return finish(found.coded, found.quality, scale, probes);
    scale = Math.max(
      leastScale,
      scale * Math.min(0.92, Math.sqrt((0.94 * (request.maxBytes ?? Infinity)) / found.coded.length)),
    );
  }
}

/** Points that are kept between one try and the next; what goes beyond is opened again each time. */
const MOST_HELD_BYTES = 256_000_000;

/**
 * Opens pictures one after another, so that a document of many pages takes no more memory than one of a few.
 */
function holdPoints(scale: number): (picture: PdfPicture) => Promise<Points> {
  const held = new Map<PDFRef, Points>();
  let heldBytes = 0;
  return async (picture) => {
    const known = held.get(picture.ref);
    if (known) return known;
    const points = await openPoints(picture, scale);
    if (heldBytes + points.data.length <= MOST_HELD_BYTES) {
      held.set(picture.ref, points);
      heldBytes += points.data.length;
    }
    return points;
  };
}

interface CodedPicture {
  readonly bytes: Buffer;
  readonly widthPx: number;
  readonly heightPx: number;
}

interface Points {
  readonly data: Buffer;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly channels: 1 | 3;
}

/**
 * Points of a picture, smaller by `scale`, in the numbers that the document gives them: no color is
 * converted.
 */
async function openPoints(picture: PdfPicture, scale: number): Promise<Points> {
  const { widthPx, heightPx, channels } = picture;
  const own =
    Math.min(widthPx, heightPx) < LEAST_SHRUNK_PX
      ? 1
      : Math.max(scale, LEAST_SHRUNK_PX / Math.min(widthPx, heightPx));
  const size = {
    width: Math.max(1, Math.round(widthPx * Math.min(1, own))),
    height: Math.max(1, Math.round(heightPx * Math.min(1, own))),
  };
  const { data, info } = await openPicture(picture)
    .resize({ ...size, fit: 'fill', kernel: 'lanczos3' })
    .toColourspace(channels === 1 ? 'b-w' : 'srgb')
    .raw()
    .toBuffer({ resolveWithObject: true });
  if (info.channels !== channels)
    throw new ApodixError('DAMAGED', { detail: 'A picture inside is not what the document says.' });
  return { data, widthPx: info.width, heightPx: info.height, channels };
}

async function codePoints(points: Points, quality: number, isReal: boolean): Promise<CodedPicture> {
  const { data, widthPx, heightPx, channels } = points;
  const bytes = await sharp(data, { raw: { width: widthPx, height: heightPx, channels } })
    .toColourspace(channels === 1 ? 'b-w' : 'srgb')
    .jpeg({ quality, mozjpeg: isReal, chromaSubsampling: quality >= FULL_CHROMA_FROM ? '4:4:4' : '4:2:0' })
    .toBuffer();
  return { bytes, widthPx, heightPx };
}

/**
 * The document with some pictures coded anew (never to more bytes than before), turned as asked, and without
 * private data.
 */
async function saveWith(
  bytes: Uint8Array,
  request: RenderRequest,
  coded: ReadonlyMap<PDFRef, CodedPicture>,
): Promise<Uint8Array> {
  const document = await openPdf(bytes);
  for (const picture of listPictures(document)) {
    const { ref, stream } = picture;
    const anew = coded.get(ref);
    const kept = picture.coding === 'jpeg' ? stripJpeg(stream.contents) : stream.contents;
    const isShrunk = anew !== undefined && anew.widthPx < picture.widthPx;
    const isAnew = anew !== undefined && (isShrunk || anew.bytes.length < kept.length);
    const { dict } = stream;
    if (isAnew) {
      dict.set(PDFName.of('Filter'), PDFName.of('DCTDecode'));
      dict.delete(PDFName.of('DecodeParms'));
      dict.set(PDFName.of('Width'), PDFNumber.of(anew.widthPx));
      dict.set(PDFName.of('Height'), PDFNumber.of(anew.heightPx));
      dict.set(PDFName.of('BitsPerComponent'), PDFNumber.of(8));
    }
    document.context.assign(ref, PDFRawStream.of(dict, isAnew ? anew.bytes : kept));
  }
  removePrivateData(document);
  for (const page of document.getPages()) {
    const turn = (((page.getRotation().angle + request.picture.turnDegrees) % 360) + 360) % 360;
    if (request.picture.isMirrored) {
      const { x, y, width, height } = page.getCropBox();
      const flip =
        turn % 180 === 0
          ? concatTransformationMatrix(-1, 0, 0, 1, 2 * x + width, 0)
          : concatTransformationMatrix(1, 0, 0, -1, 0, 2 * y + height);
      page.node.normalize();
      page.node.wrapContentStreams(
        document.context.register(document.context.contentStream([pushGraphicsState(), flip])),
        document.context.register(document.context.contentStream([popGraphicsState()])),
      );
    }
    page.setRotation(degrees(turn));
  }
  return document.save({ useObjectStreams: true, addDefaultPage: false, updateFieldAppearances: false });
}

const METADATA = PDFName.of('Metadata');
const EMBEDDED_FILE = PDFName.of('EmbeddedFile');
/** Metadata, what programs keep for themselves, associated files, and the bytes of attached ones. */
const PRIVATE_KEYS = [METADATA, PDFName.of('PieceInfo'), PDFName.of('AF'), PDFName.of('EF')];

/**
 * Takes out who wrote it and with what: the information dictionary, every metadata stream (ISO 32000-1,
 * 14.3), files that are attached (7.11.4), and then every object that nothing leads to any more, whose bytes
 * would stay otherwise.
 */
function removePrivateData(document: PDFDocument): void {
  const { context } = document;
  if (context.trailerInfo.Info) {
    const title = isTitleShown(document) ? document.getTitle() : undefined;
    context.trailerInfo.Info = context.register(context.obj({}));
    if (title !== undefined) document.setTitle(title);
  }
  document.catalog.lookupMaybe(PDFName.of('Names'), PDFDict)?.delete(PDFName.of('EmbeddedFiles'));
  for (const [ref, object] of context.enumerateIndirectObjects()) {
    const dict = object instanceof PDFStream ? object.dict : object instanceof PDFDict ? object : null;
    const type = dict?.get(PDFName.of('Type'));
    if (object instanceof PDFStream && (type === METADATA || type === EMBEDDED_FILE)) context.delete(ref);
    else for (const name of PRIVATE_KEYS) dict?.delete(name);
  }
  const reached = findReached(document);
  for (const [ref] of context.enumerateIndirectObjects()) if (!reached.has(ref)) context.delete(ref);
}

/** Whether readers are to show the title: then it is a part of what the document says (ISO 32000-1, 12.2). */
function isTitleShown({ catalog }: PDFDocument): boolean {
  const preferences = catalog.lookupMaybe(PDFName.of('ViewerPreferences'), PDFDict);
  return preferences?.lookup(PDFName.of('DisplayDocTitle')) === PDFBool.True;
}

/** Objects that something leads to, from the catalog and the information dictionary on. */
function findReached({ context }: PDFDocument): Set<PDFRef> {
  const reached = new Set<PDFRef>();
  const open: unknown[] = [context.trailerInfo.Root, context.trailerInfo.Info];
  while (open.length > 0) {
    const object = open.pop();
    if (object instanceof PDFRef) {
      if (reached.has(object)) continue;
      reached.add(object);
      open.push(context.lookup(object));
    } else if (object instanceof PDFArray) open.push(...object.asArray());
    else if (object instanceof PDFDict) open.push(...object.values());
    else if (object instanceof PDFStream) open.push(object.dict);
  }
  return reached;
}
