import { holdClose, planRender, type CloseMatch, type ClosePicture, type SizePx } from '@apodix/core';
import type { Sharp } from 'sharp';
import type { PhotoRequest } from '../still/photo-request.ts';
import { openPhoto } from './open-photo.ts';

/** Holds a made picture against the photograph that it was made from, both decoded whole. */
export async function comparePhoto(
  request: Extract<PhotoRequest, { task: 'compare' }>,
): Promise<CloseMatch | null> {
  const made = await readWhole(await openUpright(request.madePath, request.madeContainer), null);
  const opened = await openUpright(request.path, request.container);
  const { autoOrient } = await opened.metadata();
  const photoPx = { widthPx: autoOrient.width, heightPx: autoOrient.height };
  const photo = await readWhole(opened, planRender(photoPx, request.picture, made).reduced);
  return holdClose({ photo, photoPx, made, wish: request.picture });
}

const openUpright = async (path: string, container: string) =>
  (await openPhoto(path, container)).toColourspace('srgb').flatten({ background: '#ffffff' });

async function readWhole(picture: Sharp, size: SizePx | null): Promise<ClosePicture> {
  const sized = size
    ? picture.resize({ width: size.widthPx, height: size.heightPx, fit: 'fill', kernel: 'lanczos3' })
    : picture;
  const { data, info } = await sized.removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return { widthPx: info.width, heightPx: info.height, rgb: new Uint8Array(data) };
}
