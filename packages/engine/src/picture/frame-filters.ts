import {
  isReframed,
  measureStraightenZoom,
  turnSize,
  type Crop,
  type Framing,
  type SizePx,
} from '@apodix/core';

/**
 * FFmpeg filters that straighten a picture and cut it to a part, still in the source's own stance and scale:
 * turning and mirroring come after it has been reduced. Nothing where neither is asked for.
 */
export function buildFrameFilters(
  video: SizePx & { readonly pixelAspect: { readonly numerator: number; readonly denominator: number } },
  framing: Framing,
): string[] {
  if (!isReframed(framing)) return [];
  const { straightenDegrees, crop, turnDegrees, isMirrored } = framing;
  const filters: string[] = [];
  if (straightenDegrees !== 0) {
    const isSquare = video.pixelAspect.numerator === video.pixelAspect.denominator;
    if (!isSquare) filters.push(`scale=${even(video.widthPx)}:${even(video.heightPx)}`, 'setsar=1');
    const zoom = measureStraightenZoom(turnSize(video, turnDegrees), straightenDegrees);
    const angle = ((isMirrored ? -1 : 1) * straightenDegrees * Math.PI) / 180;
    filters.push(
      `rotate=a=${angle.toFixed(9)}:ow=${even(video.widthPx / zoom)}:oh=${even(video.heightPx / zoom)}`,
    );
  }
  if (crop) {
    const { x, y, width, height } = turnCropBack(crop, framing);
    const share = (value: number) => value.toFixed(9);
    filters.push(`crop=w=iw*${share(width)}:h=ih*${share(height)}:x=iw*${share(x)}:y=ih*${share(y)}`);
  }
  return filters;
}

const even = (px: number) => Math.max(2, Math.round(px / 2) * 2);

/** The part of the picture before it is turned and mirrored. */
function turnCropBack(crop: Crop, { turnDegrees, isMirrored }: Framing): Crop {
  const { y, width, height } = crop;
  const x = isMirrored ? 1 - crop.x - width : crop.x;
  switch (turnDegrees) {
    case 0:
      return { x, y, width, height };
    case 90:
      return { x: y, y: 1 - x - width, width: height, height: width };
    case 180:
      return { x: 1 - x - width, y: 1 - y - height, width, height };
    case 270:
      return { x: 1 - y - height, y: x, width: height, height: width };
  }
}
