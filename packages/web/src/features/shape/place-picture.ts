import { turnSize, type SizePx, type TurnDegrees } from '@apodix/core';

/**
 * How a picture element of its own proportions is laid into a box so that, turned, it fits: its size and CSS
 * transform.
 */
export function placePicture(
  picture: SizePx,
  box: SizePx,
  turnDegrees: TurnDegrees,
  isMirrored: boolean,
): { widthPx: number; heightPx: number; transform: string } {
  const turned = turnSize(picture, turnDegrees);
  const scale = Math.min(box.widthPx / turned.widthPx, box.heightPx / turned.heightPx);
  return {
    widthPx: picture.widthPx * scale,
    heightPx: picture.heightPx * scale,
    transform: `${isMirrored ? 'scaleX(-1) ' : ''}rotate(${turnDegrees}deg)`,
  };
}
