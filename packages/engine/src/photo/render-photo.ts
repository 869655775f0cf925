import { readFile, writeFile } from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import { openPhoto } from './open-photo.ts';
import type { PhotoRendered, PhotoRequest } from './photo-request.ts';

type RenderRequest = Extract<PhotoRequest, { task: 'render' }>;

/** Quality of JPEG and WebP: what is aimed at without a byte limit, and what is not gone below before the picture shrinks. */
const BEST_QUALITY = 93;
const LEAST_QUALITY = 62;
const HARD_LEAST_QUALITY = 30;
/** From here on color is kept at full resolution. */
const FULL_CHROMA_FROM = 82;

/** Writes upright previews in sRGB. */
export async function renderPreviews(request: Extract<PhotoRequest, { task: 'preview' }>): Promise<void> {
  const photo = (await openPhoto(request.path, request.container)).toColourspace('srgb').flatten({ background: '#ffffff' });
  for (const output of request.outputs) {
    await photo.clone().resize({ width: output.longEdgePx, height: output.longEdgePx, fit: 'inside', withoutEnlargement: true }).jpeg({ quality: output.quality }).toFile(output.path);
  }
}

/**
 * Renders a photograph upright, turned, in sRGB and without private metadata: the best quality that fits the bytes,
 * found by bisection on the real encoder; where even `LEAST_QUALITY` is too big the picture shrinks, never below `leastShortEdgePx`.
 */
export async function renderPhoto(request: RenderRequest): Promise<PhotoRendered> {
  const upright = (await openPhoto(request.path, request.container)).toColourspace('srgb');
  const flat = request.format === 'png' || request.format === 'webp' ? upright : upright.flatten({ background: '#ffffff' });
  // libvips mirrors before it turns: turning and then mirroring is mirroring and then turning the other way.
  const stood = await sharp(await flat.png({ compressionLevel: 1 }).toBuffer(), { limitInputPixels: false }).flop(request.isMirrored).rotate(request.isMirrored ? (360 - request.turnDegrees) % 360 : request.turnDegrees).png({ compressionLevel: 1 }).toBuffer();
  let { widthPx, heightPx } = request;
  let probes = 0;
  for (;;) {
    const picture = await resize(stood, widthPx, heightPx);
    const best = await findBest(picture, request, LEAST_QUALITY);
    probes += best.probes;
    const ratio = request.maxBytes === null ? 0 : best.bytes.length / request.maxBytes;
    if (ratio <= 1) return await finish(request, best, { widthPx, heightPx, probes, fits: true });
    const short = Math.min(widthPx, heightPx);
    const nextShort = Math.max(request.leastShortEdgePx, Math.floor(short * Math.min(0.96, Math.sqrt(0.94 / ratio))));
    if (nextShort >= short) {
      const lowest = await findBest(picture, request, HARD_LEAST_QUALITY);
      return await finish(request, lowest, { widthPx, heightPx, probes: probes + lowest.probes, fits: request.maxBytes === null || lowest.bytes.length <= request.maxBytes });
    }
    [widthPx, heightPx] = [Math.max(1, Math.round((widthPx * nextShort) / short)), Math.max(1, Math.round((heightPx * nextShort) / short))];
  }
}

interface Encoded {
  readonly bytes: Buffer;
  readonly quality: number | null;
  readonly probes: number;
}

async function resize(stood: Buffer, width: number, height: number): Promise<Sharp> {
  const { data, info } = await sharp(stood, { limitInputPixels: false }).resize({ width, height, fit: 'fill', kernel: 'lanczos3' }).raw().toBuffer({ resolveWithObject: true });
  return sharp(data, { raw: { width: info.width, height: info.height, channels: info.channels }, limitInputPixels: false });
}

async function findBest(picture: Sharp, request: RenderRequest, leastQuality: number): Promise<Encoded> {
  if (request.format === 'png' || request.format === 'tiff') return { bytes: await encode(picture, request.format, 100), quality: null, probes: 1 };
  let best: Encoded | null = null;
  let probes = 0;
  let [low, high] = [leastQuality, BEST_QUALITY];
  const tryQuality = async (quality: number) => {
    probes += 1;
    const bytes = await encode(picture, request.format, quality);
    const fits = request.maxBytes === null || bytes.length <= request.maxBytes;
    if (fits && (!best || quality > (best.quality ?? 0))) best = { bytes, quality, probes };
    return { fits, bytes };
  };
  if ((await tryQuality(high)).fits) low = high + 1;
  else {
    high -= 1;
    const lowest = await tryQuality(low);
    if (!lowest.fits) return { bytes: lowest.bytes, quality: low, probes };
    low += 1;
  }
  while (low <= high) {
    const middle = (low + high) >> 1;
    if ((await tryQuality(middle)).fits) low = middle + 1;
    else high = middle - 1;
  }
  return { ...(best as unknown as Encoded), probes };
}

function encode(picture: Sharp, format: RenderRequest['format'], quality: number): Promise<Buffer> {
  const tagged = picture.clone().withIccProfile('srgb');
  if (format === 'png') return tagged.png({ compressionLevel: 9, adaptiveFiltering: true }).toBuffer();
  if (format === 'tiff') return tagged.tiff({ compression: 'lzw' }).toBuffer();
  if (format === 'webp') return tagged.webp({ quality, effort: 4, smartSubsample: true }).toBuffer();
  return tagged.jpeg({ quality, mozjpeg: true, chromaSubsampling: quality >= FULL_CHROMA_FROM ? '4:4:4' : '4:2:0' }).toBuffer();
}

async function finish(request: RenderRequest, encoded: Encoded, result: Pick<PhotoRendered, 'widthPx' | 'heightPx' | 'probes' | 'fits'>): Promise<PhotoRendered> {
  await writeFile(request.outputPath, encoded.bytes);
  return { ...result, quality: encoded.quality, sizeBytes: (await readFile(request.outputPath)).length };
}
