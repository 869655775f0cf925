import { turnSize, type SizePx, type TurnDegrees } from '../geometry/turn.ts';

/** How a picture stands against its source: turned clockwise, then mirrored. */
export interface Stance {
  readonly turnDegrees: TurnDegrees;
  readonly isMirrored: boolean;
}

/**
 * For each point of a small picture that was turned and mirrored, the point of the upright one that it shows:
 * row after row, as indices.
 */
export function mapPoints(size: SizePx, stance: Stance): Int32Array {
  const { widthPx: w, heightPx: h } = size;
  const turned = turnSize(size, stance.turnDegrees);
  const points = new Int32Array(w * h);
  for (let y = 0; y < turned.heightPx; y += 1)
    for (let x = 0; x < turned.widthPx; x += 1) {
      const seenX = stance.isMirrored ? turned.widthPx - 1 - x : x;
      const [sx, sy] = {
        0: [seenX, y],
        90: [y, h - 1 - seenX],
        180: [w - 1 - seenX, h - 1 - y],
        270: [w - 1 - y, seenX],
      }[stance.turnDegrees] as [number, number];
      points[y * turned.widthPx + x] = sy * w + sx;
    }
  return points;
}
