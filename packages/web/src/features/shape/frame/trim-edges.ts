import type { Crop } from '@apodix/core';

/** More than this is a part, not an edge. */
export const MOST_TRIM = 0.06;
const NEAR = 1e-6;

/** The part that is left where the same share is taken off each side; null where none is. */
export const trimEdges = (share: number): Crop | null =>
  share <= 0 ? null : { x: share, y: share, width: 1 - 2 * share, height: 1 - 2 * share };

/** Which share was taken off each side; null where the part was chosen otherwise. */
export function readTrim(crop: Crop | null): number | null {
  if (!crop) return 0;
  const { x, y, width, height } = crop;
  const isEven =
    Math.abs(y - x) < NEAR && Math.abs(1 - 2 * x - width) < NEAR && Math.abs(width - height) < NEAR;
  return isEven && x <= MOST_TRIM + NEAR ? x : null;
}
