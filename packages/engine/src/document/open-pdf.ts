import { ApodixError } from '@apodix/core';
import {
  PDFArray,
  PDFBool,
  PDFDict,
  PDFDocument,
  PDFName,
  PDFNumber,
  PDFRawStream,
  type PDFRef,
} from 'pdf-lib';
import { inflateSync } from 'node:zlib';
import sharp, { type Sharp } from 'sharp';
import { buildPngChunk, PNG_SIGNATURE } from '../still/png-chunks.ts';
import { countJpegComponents, stripJpeg } from './jpeg-segments.ts';

const MOST_PAGES = 300;
/** Differences as in TIFF; all above 9 are the row filters of PNG (ISO 32000-1, table 10). */
const TIFF_PREDICTOR = 2;

/** A picture that lies inside a document. */
export interface PdfPicture {
  readonly ref: PDFRef;
  readonly stream: PDFRawStream;
  readonly widthPx: number;
  readonly heightPx: number;
  /** How it can be coded anew: from a JPEG, or from unpacked points; null where it is best left alone. */
  readonly coding: 'jpeg' | 'points' | null;
  /** 1 gray, 3 color. */
  readonly channels: 1 | 3;
}

/**
 * Opens a document. Throws `LOCKED` where it is encrypted, `TRUNCATED`, `DAMAGED`, or `TOO_HEAVY` beyond 300
 * pages.
 */
export async function openPdf(bytes: Uint8Array): Promise<PDFDocument> {
  if (!Buffer.from(bytes.subarray(-2048)).includes('%%EOF')) throw new ApodixError('TRUNCATED');
  let document: PDFDocument;
  try {
    document = await PDFDocument.load(bytes, {
      updateMetadata: false,
      throwOnInvalidObject: true,
      parseSpeed: 1500,
    });
  } catch (error) {
    throw new ApodixError(error instanceof Error && /encrypted/i.test(error.message) ? 'LOCKED' : 'DAMAGED', {
      cause: error,
    });
  }
  const pages = document.getPageCount();
  if (pages > MOST_PAGES)
    throw new ApodixError('TOO_HEAVY', { detail: `It has ${pages} pages; ${MOST_PAGES} are the most.` });
  if (pages === 0) throw new ApodixError('DAMAGED', { detail: 'There is no page inside.' });
  return document;
}

/** Every picture in a document, the largest first (ISO 32000-1, 8.9.5). */
export function listPictures(document: PDFDocument): PdfPicture[] {
  const pictures: PdfPicture[] = [];
  for (const [ref, object] of document.context.enumerateIndirectObjects()) {
    if (!(object instanceof PDFRawStream) || object.dict.get(PDFName.of('Subtype')) !== PDFName.of('Image'))
      continue;
    const { dict } = object;
    const number = (name: string) => dict.lookupMaybe(PDFName.of(name), PDFNumber)?.asNumber() ?? 0;
    const [widthPx, heightPx] = [number('Width'), number('Height')];
    if (widthPx < 1 || heightPx < 1 || dict.lookupMaybe(PDFName.of('ImageMask'), PDFBool)?.asBoolean())
      continue;
    const isPlain = !dict.has(PDFName.of('Mask')) && !dict.has(PDFName.of('Decode'));
    const filter = readFilter(dict);
    const channels =
      filter === 'DCTDecode' ? countJpegComponents(object.contents) : countChannels(document, dict);
    const isKnown = channels === 1 || channels === 3;
    const coding =
      !isPlain || !isKnown
        ? null
        : filter === 'DCTDecode'
          ? 'jpeg'
          : filter === 'FlateDecode' &&
              number('BitsPerComponent') === 8 &&
              readPredictor(dict) !== TIFF_PREDICTOR
            ? 'points'
            : null;
    pictures.push({ ref, stream: object, widthPx, heightPx, coding, channels: channels === 1 ? 1 : 3 });
  }
  return pictures.sort((left, right) => right.widthPx * right.heightPx - left.widthPx * left.heightPx);
}

/** Writers put a line end or some padding behind the points. */
const UNPACKED_ROOM = 65_536;

/**
 * A picture inside as it can be opened: its JPEG without notes or profile, or its losslessly packed points,
 * which with row filters are those of a PNG.
 */
export function openPicture(picture: PdfPicture): Sharp {
  const { stream, widthPx, heightPx, channels } = picture;
  if (picture.coding === 'jpeg')
    return sharp(stripJpeg(stream.contents, { withoutProfile: true }), { failOn: 'error' });
  if (readPredictor(stream.dict) === 1) {
    const size = widthPx * heightPx * channels;
    // What unpacks to far more than its points is no picture, and would take all memory.
    const points = inflateSync(stream.contents, { maxOutputLength: size + UNPACKED_ROOM });
    return sharp(points.subarray(0, size), { raw: { width: widthPx, height: heightPx, channels } });
  }
  const header = Buffer.alloc(13);
  header.writeUInt32BE(widthPx, 0);
  header.writeUInt32BE(heightPx, 4);
  header.set([8, channels === 1 ? 0 : 2], 8);
  return sharp(
    Buffer.concat([
      PNG_SIGNATURE,
      buildPngChunk('IHDR', header),
      buildPngChunk('IDAT', stream.contents),
      buildPngChunk('IEND', new Uint8Array()),
    ]),
    { failOn: 'error' },
  );
}

/** The one filter of a stream without its slash; null where there are several or none. */
function readFilter(dict: PDFDict): string | null {
  const filter = dict.lookup(PDFName.of('Filter'));
  const only = filter instanceof PDFArray && filter.size() === 1 ? filter.lookup(0) : filter;
  return only instanceof PDFName ? only.decodeText() : null;
}

function readPredictor(dict: PDFDict): number {
  const raw = dict.lookup(PDFName.of('DecodeParms'));
  const parms = raw instanceof PDFArray ? raw.lookup(0) : raw;
  return parms instanceof PDFDict
    ? (parms.lookupMaybe(PDFName.of('Predictor'), PDFNumber)?.asNumber() ?? 1)
    : 1;
}

function countChannels(document: PDFDocument, dict: PDFDict): number | null {
  const space = dict.lookup(PDFName.of('ColorSpace'));
  if (space === PDFName.of('DeviceRGB')) return 3;
  if (space === PDFName.of('DeviceGray')) return 1;
  if (!(space instanceof PDFArray)) return null;
  const kind = space.lookup(0);
  if (kind === PDFName.of('CalRGB')) return 3;
  if (kind === PDFName.of('CalGray')) return 1;
  const profile = kind === PDFName.of('ICCBased') ? document.context.lookup(space.get(1)) : null;
  return profile instanceof PDFRawStream
    ? (profile.dict.lookupMaybe(PDFName.of('N'), PDFNumber)?.asNumber() ?? null)
    : null;
}
