import type { RgbPicture } from '@apodix/core';

/** Longer edge at which light is looked at. */
const LOOK_EDGE = 640;

/** The points of a picture, made small. Rejects where it cannot be loaded. */
export async function loadPicture(url: string): Promise<RgbPicture> {
  const image = new Image();
  image.src = url;
  await image.decode();
  const scale = LOOK_EDGE / Math.max(image.naturalWidth, image.naturalHeight);
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(image.naturalWidth * scale);
  canvas.height = Math.round(image.naturalHeight * scale);
  const context = canvas.getContext('2d');
  if (!context) throw new TypeError('This browser draws nothing.');
  context.drawImage(image, 0, 0, canvas.width, canvas.height);
  const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
  return { widthPx: canvas.width, heightPx: canvas.height, bytes: data, bands: 4 };
}
