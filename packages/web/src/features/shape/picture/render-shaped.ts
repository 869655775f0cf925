import { measureShaped, planRender, renderPicture, type Recipe, type SizePx } from '@apodix/core';
import { dropAlpha } from './drop-alpha.ts';

/** R, G and B of eight bits, row after row. */
export interface ShapedPicture extends SizePx {
  readonly rgb: Uint8Array;
}

/**
 * A photograph as its recipe leaves it, its longer edge no longer than so many points. Rejects where the
 * proxy cannot be read.
 */
export async function renderShaped(proxyUrl: string, recipe: Recipe, edgePx: number): Promise<ShapedPicture> {
  const { picture } = recipe;
  const image = new Image();
  image.src = proxyUrl;
  await image.decode();
  const own = { widthPx: image.naturalWidth, heightPx: image.naturalHeight };
  const shaped = measureShaped(own, picture);
  const scale = Math.min(1, edgePx / Math.max(shaped.widthPx, shaped.heightPx));
  const size = {
    widthPx: Math.max(1, Math.round(shaped.widthPx * scale)),
    heightPx: Math.max(1, Math.round(shaped.heightPx * scale)),
  };
  const { reduced, fill } = planRender(own, picture, size);
  const source = draw(image, reduced.widthPx, reduced.heightPx);
  const rgb = renderPicture(fill({ ...reduced, most: 255, levels: dropAlpha(source.data) }));
  return { ...size, rgb };
}

/** The same as the address of a picture, which is to be given back. */
export async function drawShaped(proxyUrl: string, recipe: Recipe, edgePx: number): Promise<string> {
  const { widthPx, heightPx, rgb } = await renderShaped(proxyUrl, recipe, edgePx);
  const made = new ImageData(widthPx, heightPx);
  for (let point = 0; point < widthPx * heightPx; point += 1)
    made.data.set([rgb[point * 3] ?? 0, rgb[point * 3 + 1] ?? 0, rgb[point * 3 + 2] ?? 0, 255], point * 4);
  const canvas = new OffscreenCanvas(widthPx, heightPx);
  canvas.getContext('2d')?.putImageData(made, 0, 0);
  return URL.createObjectURL(await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.9 }));
}

function draw(image: HTMLImageElement, width: number, height: number): ImageData {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d');
  if (!context) throw new TypeError('This browser draws nothing.');
  context.imageSmoothingQuality = 'high';
  context.drawImage(image, 0, 0, width, height);
  return context.getImageData(0, 0, width, height);
}
