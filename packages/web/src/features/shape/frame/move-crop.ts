import { LEAST_CROP_SHARE, type Crop } from '@apodix/core';

export type CropPart = 'move' | 'nw' | 'ne' | 'sw' | 'se';

const round = (value: number) => Math.round(value * 1e4) / 1e4;
const clamp = (value: number, low: number, high: number) => Math.max(low, Math.min(high, value));

/**
 * Moves a part, or one of its corners, by shares of the picture's edges. `lock` is width to height in shares;
 * with it both edges change together. The part stays inside the picture and never gets too small.
 */
export function moveCrop(crop: Crop, part: CropPart, dx: number, dy: number, lock: number | null): Crop {
  if (part === 'move')
    return {
      ...crop,
      x: round(clamp(crop.x + dx, 0, 1 - crop.width)),
      y: round(clamp(crop.y + dy, 0, 1 - crop.height)),
    };
  const isWest = part === 'nw' || part === 'sw';
  const isNorth = part === 'nw' || part === 'ne';
  const [right, bottom] = [crop.x + crop.width, crop.y + crop.height];
  const [roomX, roomY] = [isWest ? right : 1 - crop.x, isNorth ? bottom : 1 - crop.y];
  let width = clamp(crop.width + (isWest ? -dx : dx), LEAST_CROP_SHARE, roomX);
  let height = clamp(crop.height + (isNorth ? -dy : dy), LEAST_CROP_SHARE, roomY);
  if (lock !== null) {
    width = clamp(width, Math.max(LEAST_CROP_SHARE, LEAST_CROP_SHARE * lock), Math.min(roomX, roomY * lock));
    height = width / lock;
  }
  // Rounded down, so that it stays inside.
  const [w, h] = [Math.floor(width * 1e4) / 1e4, Math.floor(height * 1e4) / 1e4];
  return {
    x: round(isWest ? clamp(right - w, 0, 1 - w) : crop.x),
    y: round(isNorth ? clamp(bottom - h, 0, 1 - h) : crop.y),
    width: w,
    height: h,
  };
}
