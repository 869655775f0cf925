import { applyTable, buildColorTable, matchColor, type ColorSettings } from '@apodix/core';

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

/** R, G, B of R, G, B, A. */
export function dropAlpha(data: Uint8ClampedArray): Uint8Array {
  const rgb = new Uint8Array((data.length / 4) * 3);
  for (let point = 0; point < data.length / 4; point += 1)
    for (let side = 0; side < 3; side += 1) rgb[point * 3 + side] = data[point * 4 + side] ?? 0;
  return rgb;
}

/**
 * Settings that bring one take near another as that one will be handed in; null where either tells too
 * little.
 */
export async function matchTakes(
  ownStripUrl: string,
  wantedStripUrl: string,
  wantedColor: ColorSettings | null,
): Promise<ColorSettings | null> {
  const [own, wanted] = await Promise.all([readStrip(ownStripUrl), readStrip(wantedStripUrl)]);
  const rgb = wantedColor ? applyTable(wanted.rgb, buildColorTable(wantedColor)) : wanted.rgb;
  return matchColor(own, { ...wanted, rgb });
}
