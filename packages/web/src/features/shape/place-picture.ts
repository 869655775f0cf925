import { frameSize, invertAffine, mapToSource, type Affine, type Framing, type SizePx } from '@apodix/core';

/** How a picture element lies in the window through which its framed part is seen. */
export interface PlacedPicture {
  /** The window: as large as fits into its box. */
  readonly windowPx: SizePx;
  /** The element itself, and its CSS transform about its upper left corner. */
  readonly elementPx: SizePx;
  readonly transform: string;
}

/** A map of points as CSS has it. */
export const writeMatrix = ({ a, b, c, d, e, f }: Affine) =>
  `matrix(${[a, b, c, d, e, f].map((value) => Math.round(value * 1e4) / 1e4).join(', ')})`;

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
  const map = { a: (a * w) / scale, b: (b * h) / scale, c: (c * w) / scale, d: (d * h) / scale };
  return {
    windowPx,
    elementPx: { widthPx: picture.widthPx * scale, heightPx: picture.heightPx * scale },
    transform: writeMatrix({ ...map, e: e * w, f: f * h }),
  };
}
