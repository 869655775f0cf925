import { measureLuma, type CardPicture, type OpeningCard, type ShapedSizes, type SizePx } from '@apodix/core';
import sharp from 'sharp';
import { layOutCard } from './lay-out-card.ts';

/** How many times larger it is drawn before it is averaged to the small pictures of a proof. */
const OVERSAMPLE = 8;

/** An opening card as PNG bytes of a size. */
export async function drawCard(card: OpeningCard, size: SizePx): Promise<Buffer> {
  return sharp(Buffer.from(layOutCard(card, size)))
    .removeAlpha()
    .png({ compressionLevel: 3 })
    .toBuffer();
}

/** The same as small as the pictures that a proof compares, averaged from a larger one. */
export async function drawSmallCard(
  card: OpeningCard,
  shown: SizePx,
  sizes: ShapedSizes,
): Promise<CardPicture> {
  const color = await drawPixels(card, shown, sizes.color);
  const small = await drawPixels(card, shown, sizes.signature);
  const signature = new Uint8Array(small.length / 3);
  for (let point = 0; point < signature.length; point += 1)
    signature[point] = Math.round(
      measureLuma(small[point * 3] ?? 0, small[point * 3 + 1] ?? 0, small[point * 3 + 2] ?? 0),
    );
  return { signature, color };
}

/** R, G, B, row after row, each the mean of what lies in it. */
async function drawPixels(card: OpeningCard, shown: SizePx, target: SizePx): Promise<Uint8Array> {
  const [w, h] = [target.widthPx * OVERSAMPLE, target.heightPx * OVERSAMPLE];
  const scale = w / shown.widthPx;
  const svg = layOutCard(card, shown).replace(
    /width="\d+" height="\d+"/,
    `width="${w}" height="${h}" preserveAspectRatio="none" viewBox="0 0 ${shown.widthPx} ${shown.heightPx}"`,
  );
  const { data } = await sharp(Buffer.from(svg), { density: Math.max(1, 72 * Math.max(1, scale)) })
    .resize(w, h, { fit: 'fill' })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const made = new Uint8Array(target.widthPx * target.heightPx * 3);
  for (let y = 0; y < target.heightPx; y += 1)
    for (let x = 0; x < target.widthPx; x += 1)
      for (let side = 0; side < 3; side += 1) {
        let sum = 0;
        for (let dy = 0; dy < OVERSAMPLE; dy += 1)
          for (let dx = 0; dx < OVERSAMPLE; dx += 1)
            sum += data[((y * OVERSAMPLE + dy) * w + x * OVERSAMPLE + dx) * 3 + side] ?? 0;
        made[(y * target.widthPx + x) * 3 + side] = Math.round(sum / OVERSAMPLE ** 2);
      }
  return made;
}
