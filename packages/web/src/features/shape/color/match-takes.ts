import { applyTable, buildColorTable, matchColor, type ColorSettings, type TakeView } from '@apodix/core';
import { dropAlpha } from '../picture/drop-alpha.ts';

/** Small pictures of a whole take: eight-bit R, G, B. */
interface StripPictures {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly rgb: Uint8Array;
}

/** Points of a strip of small pictures; throws where it cannot be loaded. */
async function readStrip(url: string): Promise<StripPictures> {
  const answer = await fetch(url);
  if (!answer.ok) throw new TypeError('The pictures of the take are not there.');
  const bitmap = await createImageBitmap(await answer.blob());
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [bitmap.width, bitmap.height];
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) throw new TypeError('There is no canvas.');
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  const { data, width, height } = context.getImageData(0, 0, canvas.width, canvas.height);
  return { widthPx: width, heightPx: height, rgb: dropAlpha(data) };
}

/**
 * Settings that bring one take near another as that one will be handed in; null where either tells too
 * little.
 */
export async function matchTakes(take: TakeView, model: TakeView): Promise<ColorSettings | null> {
  if (take.stripUrl === null || model.stripUrl === null) return null;
  const [own, wanted] = await Promise.all([readStrip(take.stripUrl), readStrip(model.stripUrl)]);
  const wantedColor = model.recipe?.recipe.picture.color ?? null;
  const rgb = wantedColor ? applyTable(wanted.rgb, buildColorTable(wantedColor)) : wanted.rgb;
  return matchColor(own, { ...wanted, rgb });
}
