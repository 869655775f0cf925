import { convertRgbToLuma, isConvex, snapCorners, type Quad, type RgbPicture } from '@apodix/core';
import { computed } from 'vue';
import type { useTarget } from './color/useTarget.ts';
import type { useFlatten } from './frame/useFlatten.ts';

/** Corners that are being set on the whole photograph: those of the piece, or of a color target. */
export function useCornerSetting(
  flat: ReturnType<typeof useFlatten>,
  target: ReturnType<typeof useTarget>,
  readPicture: () => RgbPicture | null,
) {
  return {
    corners: computed(() => {
      if (target.isSetting.value) return target.corners.value;
      return flat.isSetting.value ? flat.corners.value : null;
    }),
    move: (corners: Quad, isDragging: boolean): void => {
      if (target.isSetting.value) target.move(corners, readPicture());
      else flat.move(corners, isDragging);
    },
    /** Moves them onto the edges beside which they were set. */
    snap: (): void => {
      const picture = readPicture();
      const snapped = picture && snapCorners(convertRgbToLuma(picture), flat.corners.value);
      if (snapped && isConvex(snapped)) flat.move(snapped, false);
    },
  };
}
