import type { RgbPicture, SizePx } from '@apodix/core';

/** Longer edge at which light is looked at. */
const LOOK_EDGE = 640;

/** What is shown somewhere, with its longer edge made that many points; null where nothing can be drawn. */
export function readSmall(
  source: CanvasImageSource,
  { widthPx, heightPx }: SizePx,
  edgePx: number,
): RgbPicture | null {
  const scale = edgePx / Math.max(widthPx, heightPx);
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(widthPx * scale);
  canvas.height = Math.round(heightPx * scale);
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) return null;
  context.drawImage(source, 0, 0, canvas.width, canvas.height);
  const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
  return { widthPx: canvas.width, heightPx: canvas.height, bytes: data, bands: 4 };
}

/** The points of a picture, made small. Rejects where it cannot be loaded. */
export async function loadPicture(url: string): Promise<RgbPicture> {
  const image = new Image();
  image.src = url;
  await image.decode();
  const read = readSmall(image, { widthPx: image.naturalWidth, heightPx: image.naturalHeight }, LOOK_EDGE);
  if (!read) throw new TypeError('This browser draws nothing.');
  return read;
}
