import {
  composeProjective,
  flatSize,
  frameSize,
  invertAffine,
  invertProjective,
  mapToPhoto,
  mapToSource,
  type Affine,
  type Flatten,
  type Framing,
  type Projective,
  type SizePx,
} from '@apodix/core';

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

/** A projective map of points as CSS has it. */
const writeProjective = ([a, b, c, d, e, f, g, h, i]: Projective) =>
  `matrix3d(${[a, d, 0, g, b, e, 0, h, 0, 0, 1, 0, c, f, 0, i]
    .map((value) => Number((value / i).toPrecision(10)))
    .join(', ')})`;

/**
 * Lays a picture of its own proportions into a box, framed: brought flat, turned, mirrored, straightened, cut
 * to a part.
 */
export function placePicture(
  picture: SizePx,
  box: SizePx,
  framing: Framing & { readonly flatten?: Flatten | null },
): PlacedPicture {
  const framed = frameSize(flatSize(picture, framing.flatten), framing);
  const scale = Math.min(box.widthPx / framed.widthPx, box.heightPx / framed.heightPx);
  const windowPx = { widthPx: framed.widthPx * scale, heightPx: framed.heightPx * scale };
  const [w, h] = [windowPx.widthPx, windowPx.heightPx];
  // A flattened piece fills the window; the rest of its photograph lies beyond, as large as is of use.
  const elementScale = framing.flatten
    ? Math.min(1, box.widthPx / picture.widthPx, box.heightPx / picture.heightPx)
    : scale;
  const elementPx = {
    widthPx: picture.widthPx * elementScale,
    heightPx: picture.heightPx * elementScale,
  };
  if (!framing.flatten) {
    const { a, b, c, d, e, f } = invertAffine(mapToSource(picture, framing));
    const map = { a: (a * w) / scale, b: (b * h) / scale, c: (c * w) / scale, d: (d * h) / scale };
    return { windowPx, elementPx, transform: writeMatrix({ ...map, e: e * w, f: f * h }) };
  }
  const toSource: Projective = [1 / elementScale, 0, 0, 0, 1 / elementScale, 0, 0, 0, 1];
  const toShares = composeProjective(toSource, invertProjective(mapToPhoto(picture, framing)));
  const toWindow = composeProjective(toShares, [w, 0, 0, 0, h, 0, 0, 0, 1]);
  return { windowPx, elementPx, transform: writeProjective(toWindow) };
}
