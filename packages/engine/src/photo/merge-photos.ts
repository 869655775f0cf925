import { ApodixError, mergeShots, type MediaFacts, type RgbPicture } from '@apodix/core';
import sharp from 'sharp';
import { PhotoMerged, type PhotoRequest } from '../still/photo-request.ts';
import { openPhoto } from './open-photo.ts';
import { runPhotoChild } from './run-photo-child.ts';

/** Fine enough that coding once more is not seen. */
const QUALITY = 97;
/** Larger shots are reduced to this: three of them are held at once, as light. */
const MOST_PIXELS = 16_000_000;

/**
 * Writes two or three photographs of one piece, the lamp moved between them, as one JPEG without the lamp in
 * it. Throws `BAD_REQUEST`, with words for people, where they do not show the same piece.
 */
export async function mergePhotos(input: {
  readonly shots: readonly { readonly path: string; readonly facts: MediaFacts }[];
  readonly outputPath: string;
  readonly signal?: AbortSignal;
}): Promise<PhotoMerged> {
  const shots = input.shots.map(({ path, facts }) => {
    if (!facts.photo) throw new ApodixError('BAD_REQUEST', { detail: 'Only photographs can be merged.' });
    return { path, container: facts.container, corners: facts.photo.piece?.corners ?? null };
  });
  const request = { task: 'merge' as const, shots, outputPath: input.outputPath };
  return PhotoMerged.parse(await runPhotoChild(request, input.signal));
}

/** The same inside the process that opens photographs. */
export async function mergeOpened({
  shots,
  outputPath,
}: Extract<PhotoRequest, { task: 'merge' }>): Promise<PhotoMerged> {
  const opened: { picture: RgbPicture; corners: (typeof shots)[number]['corners'] }[] = [];
  for (const { path, container, corners } of shots)
    opened.push({ picture: await readWhole(path, container), corners });
  const [first] = opened;
  if (!first) throw new ApodixError('BAD_REQUEST');
  const { rgb, replacedShare, offPx } = explain(() => mergeShots(opened));
  const { widthPx: width, heightPx: height } = first.picture;
  await sharp(Buffer.from(rgb.buffer, rgb.byteOffset, rgb.length), { raw: { width, height, channels: 3 } })
    .withIccProfile('srgb')
    .jpeg({ quality: QUALITY, chromaSubsampling: '4:4:4' })
    .toFile(outputPath);
  return { replacedShare, offPx };
}

function explain<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof RangeError) throw new ApodixError('BAD_REQUEST', { detail: error.message });
    throw error;
  }
}

async function readWhole(path: string, container: string): Promise<RgbPicture> {
  const opened = await openPhoto(path, container);
  const { autoOrient } = await opened.metadata();
  const scale = Math.min(1, Math.sqrt(MOST_PIXELS / (autoOrient.width * autoOrient.height)));
  const { data, info } = await opened
    .toColourspace('srgb')
    .flatten({ background: '#ffffff' })
    .resize({
      width: Math.round(autoOrient.width * scale),
      height: Math.round(autoOrient.height * scale),
      fit: 'fill',
    })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { widthPx: info.width, heightPx: info.height, bytes: new Uint8Array(data), bands: 3 };
}
