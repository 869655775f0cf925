import { frameSize, invertAffine, mapToSource, type Framing, type SizePx } from '@apodix/core';

/** How a picture element lies in the window through which its framed part is seen. */
export interface PlacedPicture {
  /** The window: as large as fits into its box. */
  readonly windowPx: SizePx;
  /** The element itself, and its CSS transform about its upper left corner. */
  readonly elementPx: SizePx;
  readonly transform: string;
}

const round = (value: number) => Math.round(value * 1e4) / 1e4;

/**
 * Lays a picture of its own proportions into a box, framed: turned, mirrored, straightened, cut to a
 * part.
 */
export function placePicture(picture: SizePx, box: SizePx, framing: Framing): PlacedPicture {
  const framed = frameSize(picture, framing);
  const scale = Math.min(box.widthPx / framed.widthPx, box.heightPx / framed.heightPx);
  const windowPx = { widthPx: framed.widthPx * scale, heightPx: framed.heightPx * scale };
  const { a, b, c, d, e, f } = invertAffine(mapToSource(picture, framing));
  const [w, h] = [windowPx.widthPx, windowPx.heightPx];
  const matrix = [(a * w) / scale, (b * h) / scale, (c * w) / scale, (d * h) / scale, e * w, f * h];
  return {
    windowPx,
    elementPx: { widthPx: picture.widthPx * scale, heightPx: picture.heightPx * scale },
    transform: `matrix(${matrix.map(round).join(', ')})`,
  };
}
