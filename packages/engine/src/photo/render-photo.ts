import { isReshaped, planRender, type About, type SizePx } from '@apodix/core';
import { readFile, stat, writeFile } from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import { codeFreely, fitJpeg } from './fit-jpeg.ts';
import { findQuality, type FoundQuality } from '../still/find-quality.ts';
import { cleanJpeg, findProfileSegment } from '../document/jpeg-segments.ts';
import { readProfileName } from './inspect-photo.ts';
import { openPhoto } from './open-photo.ts';
import { buildXmp, tellInJpeg } from './tell-about.ts';
import { startRenderThreads } from './render-threads.ts';
import type { PhotoRendered, PhotoRequest } from '../still/photo-request.ts';

type RenderRequest = Extract<PhotoRequest, { task: 'render' }>;

/**
 * Quality of JPEG and WebP: what is aimed at without a byte limit, and what is not gone below before the
 * picture shrinks.
 */
const BEST_QUALITY = 93;
/** Where bytes are limited they are used, up to here: beyond it they grow by half for what nobody sees. */
const MOST_QUALITY = 98;
const LEAST_QUALITY = 62;
const HARD_LEAST_QUALITY = 30;

/** Writes upright previews in sRGB. */
export async function renderPreviews(request: Extract<PhotoRequest, { task: 'preview' }>): Promise<void> {
  const photo = (await openPhoto(request.path, request.container))
    .toColourspace('srgb')
    .flatten({ background: '#ffffff' });
  for (const output of request.outputs) {
    await photo
      .clone()
      .resize({
        width: output.longEdgePx,
        height: output.longEdgePx,
        fit: 'inside',
        withoutEnlargement: true,
      })
      .jpeg({ quality: output.quality })
      .toFile(output.path);
  }
}

/**
 * Renders a photograph upright, turned, in sRGB and without private metadata: the best quality that fits the
 * bytes, found on the real coder; where even `LEAST_QUALITY` is too big the picture shrinks, never below
 * `leastShortEdgePx`. For a PDF the picture fills its one page; a PDF stays one, its pictures coded anew.
 */
export async function renderPhoto(request: RenderRequest): Promise<PhotoRendered> {
  // Loaded only where it is needed: each photograph has a process of its own.
  const document = request.format === 'pdf' ? await import('../document/write-pdf.ts') : null;
  if (document && request.container === 'pdf') return document.fitPdf(request);
  const takenOver = await takeOver(request);
  if (takenOver) return takenOver;
  const stood = isReshaped(request.picture) ? await reshape(request) : await stand(request);
  const maxBytes =
    request.maxBytes === null
      ? null
      : Math.max(1, request.maxBytes - (document?.measureFrame(request.picture.about) ?? 0));
  const wrap = document?.wrapInPdf ?? null;
  let { widthPx, heightPx } = request;
  let probes = 0;
  for (;;) {
    const picture = await resize(stood, widthPx, heightPx);
    const found = await findBest(picture, request, maxBytes, LEAST_QUALITY);
    probes += found.probes;
    if (found.fits) return finish(request, wrap, found, { widthPx, heightPx, probes, fits: true });
    const ratio = found.coded.length / (maxBytes ?? Infinity);
    const short = Math.min(widthPx, heightPx);
    const nextShort = Math.max(
      request.leastShortEdgePx,
      Math.floor(short * Math.min(0.96, Math.sqrt(0.94 / ratio))),
    );
    if (nextShort >= short) {
      const lowest = await findBest(picture, request, maxBytes, HARD_LEAST_QUALITY);
      return finish(request, wrap, lowest, {
        widthPx,
        heightPx,
        probes: probes + lowest.probes,
        fits: lowest.fits,
      });
    }
    [widthPx, heightPx] = [
      Math.max(1, Math.round((widthPx * nextShort) / short)),
      Math.max(1, Math.round((heightPx * nextShort) / short)),
    ];
  }
}

/**
 * A photograph that is as it is wanted already is not coded again: its coded picture goes on as it is, and
 * nothing else that the file tells. null where that is not so.
 */
async function takeOver(request: RenderRequest): Promise<PhotoRendered | null> {
  const { picture, widthPx, heightPx, maxBytes } = request;
  const isAsItIs = !isReshaped(picture) && picture.turnDegrees === 0 && !picture.isMirrored;
  if (request.format !== 'jpeg' || request.container !== 'jpeg' || !isAsItIs) return null;
  const { width, height, orientation = 1, channels, icc, space } = await sharp(request.path).metadata();
  const isSize = width === widthPx && height === heightPx;
  const isPlain = orientation === 1 && channels === 3 && space === 'srgb';
  // Other primaries are converted. Without a profile these are meant, and told from now on.
  if (!isSize || !isPlain || (icc && !/sRGB/i.test(readProfileName(icc)))) return null;
  const cleaned = cleanJpeg(await readFile(request.path), icc ? null : await buildStandardProfile());
  if (!cleaned) return null;
  const told = picture.about ? tellInJpeg(cleaned, picture.about) : cleaned;
  if (maxBytes !== null && told.length > maxBytes) return null;
  await writeFile(request.outputPath, told);
  return { widthPx, heightPx, quality: null, sizeBytes: told.length, probes: 0, fits: true };
}

/** The segment that says that colors are those of sRGB. */
async function buildStandardProfile(): Promise<Uint8Array | null> {
  const point = sharp({ create: { width: 8, height: 8, channels: 3, background: '#808080' } });
  return findProfileSegment(await point.withIccProfile('srgb').jpeg().toBuffer());
}

/** Turned and mirrored alone: every point stays as it is. */
async function stand(request: RenderRequest): Promise<RawPicture> {
  const { turnDegrees, isMirrored } = request.picture;
  const upright = (
    await openPhoto(request.path, request.container, Math.max(request.widthPx, request.heightPx))
  ).toColourspace('srgb');
  const flat =
    request.format === 'png' || request.format === 'webp'
      ? upright
      : upright.flatten({ background: '#ffffff' });
  const opened = await readRaw(flat);
  if (turnDegrees === 0 && !isMirrored) return opened;
  // libvips mirrors before it turns: turning and then mirroring is mirroring and then turning the other way.
  return readRaw(
    openRaw(opened)
      .flop(isMirrored)
      .rotate(isMirrored ? (360 - turnDegrees) % 360 : turnDegrees),
  );
}

/** Flattened, framed and colored in one go, at the size of the result, in the depth of the photograph. */
async function reshape(request: RenderRequest): Promise<RawPicture> {
  const threads = startRenderThreads();
  try {
    const opened = (await openPhoto(request.path, request.container)).flatten({ background: '#ffffff' });
    const { autoOrient, depth } = await opened.metadata();
    const size = { widthPx: request.widthPx, heightPx: request.heightPx };
    const { reduced, fill } = planRender(
      { widthPx: autoOrient.width, heightPx: autoOrient.height },
      request.picture,
      size,
    );
    const isDeep = depth === 'ushort';
    // Sixteen bits come through the conversion of a profile only as a picture of their own.
    const source = isDeep
      ? sharp(await opened.png({ compressionLevel: 0 }).toBuffer(), { limitInputPixels: false })
      : opened;
    const { data, info } = await source
      .resize({ width: reduced.widthPx, height: reduced.heightPx, fit: 'fill', kernel: 'lanczos3' })
      .toColourspace(isDeep ? 'rgb16' : 'srgb')
      .removeAlpha()
      .raw({ depth: isDeep ? 'ushort' : 'uchar' })
      .toBuffer({ resolveWithObject: true });
    const rgb = await threads.render(
      fill({
        widthPx: info.width,
        heightPx: info.height,
        most: isDeep ? 65_535 : 255,
        levels: isDeep
          ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2)
          : new Uint8Array(data.buffer, data.byteOffset, data.length),
      }),
    );
    return { ...size, channels: 3, data: Buffer.from(rgb.buffer) };
  } finally {
    await threads.close();
  }
}

/** Points of a picture as they lie in memory, eight bits each side. */
interface RawPicture extends SizePx {
  readonly data: Buffer;
  readonly channels: 1 | 2 | 3 | 4;
}

const openRaw = ({ data, widthPx, heightPx, channels }: RawPicture): Sharp =>
  sharp(data, { raw: { width: widthPx, height: heightPx, channels }, limitInputPixels: false });

async function readRaw(picture: Sharp): Promise<RawPicture> {
  const { data, info } = await picture.raw().toBuffer({ resolveWithObject: true });
  return { data, widthPx: info.width, heightPx: info.height, channels: info.channels as 3 };
}

async function resize(stood: RawPicture, width: number, height: number): Promise<Sharp> {
  if (stood.widthPx === width && stood.heightPx === height) return openRaw(stood);
  return openRaw(await readRaw(openRaw(stood).resize({ width, height, fit: 'fill', kernel: 'lanczos3' })));
}

async function findBest(
  picture: Sharp,
  request: RenderRequest,
  maxBytes: number | null,
  least: number,
): Promise<Omit<FoundQuality<Buffer>, 'quality'> & { readonly quality: number | null }> {
  const { format } = request;
  const { about } = request.picture;
  const best = maxBytes === null ? BEST_QUALITY : MOST_QUALITY;
  const sizeOf = (coded: Buffer) => coded.length;
  if (format === 'png' || format === 'tiff') {
    const coded = await encode(picture, format, about);
    return { coded, quality: null, fits: maxBytes === null || coded.length <= maxBytes, probes: 1 };
  }
  if (format === 'webp') {
    const code = (quality: number) => encode(picture, format, about, quality);
    const probe = async (quality: number) =>
      (await picture.clone().webp({ quality, effort: 0 }).toBuffer()).length;
    return findQuality({ code, probe, sizeOf }, maxBytes, least, best);
  }
  // In a document the page says how colors are meant, and the document what is told.
  const isInPdf = format === 'pdf';
  const profile = isInPdf ? null : 'srgb';
  const tell = (coded: Buffer) => (about && !isInPdf ? tellInJpeg(coded, about) : coded);
  const told = about && !isInPdf ? tell(Buffer.from([0xff, 0xd8])).length - 2 : 0;
  if (maxBytes === null)
    return { coded: tell(await codeFreely(picture, best, profile)), quality: best, fits: true, probes: 1 };
  const found = await fitJpeg(picture, Math.max(1, maxBytes - told), least, best, profile);
  return { ...found, coded: tell(found.coded) };
}

function encode(
  picture: Sharp,
  format: 'png' | 'tiff' | 'webp',
  about: About | null,
  quality = BEST_QUALITY,
): Promise<Buffer> {
  const tagged = picture.clone().withIccProfile('srgb');
  const told = about ? tagged.withXmp(buildXmp(about)) : tagged;
  if (format === 'png') return told.png({ compressionLevel: 9, adaptiveFiltering: true }).toBuffer();
  if (format === 'tiff') return told.tiff({ compression: 'lzw' }).toBuffer();
  return told.webp({ quality, effort: 4, smartSubsample: true }).toBuffer();
}

type Wrap = (
  jpeg: Uint8Array,
  size: { readonly widthPx: number; readonly heightPx: number },
  about: About | null,
) => Promise<Uint8Array>;

async function finish(
  request: RenderRequest,
  wrap: Wrap | null,
  found: { readonly coded: Buffer; readonly quality: number | null },
  result: Pick<PhotoRendered, 'widthPx' | 'heightPx' | 'probes' | 'fits'>,
): Promise<PhotoRendered> {
  await writeFile(
    request.outputPath,
    wrap ? await wrap(found.coded, result, request.picture.about) : found.coded,
  );
  const sizeBytes = (await stat(request.outputPath)).size;
  return {
    ...result,
    fits: result.fits && (request.maxBytes === null || sizeBytes <= request.maxBytes),
    quality: found.quality,
    sizeBytes,
  };
}
