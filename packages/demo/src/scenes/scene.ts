/**
 * A drawn, moving scene: SVG for each instant, and what happens to the picture on its way into the camera.
 */
export interface Scene {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly rateHz: number;
  readonly durationS: number;
  /** The still part, drawn once. */
  readonly background: string;
  /** The moving part at second `t`. */
  draw(t: number): string;
  /** Where anything moves, in the drawing's own units (1280×720): x, y, width, height. */
  readonly movingBox: readonly [number, number, number, number];
  /** How far a hand lets the camera wander, in pixels. */
  readonly shakePx: number;
  /** FFmpeg filters for lamp color, dimness and grain. */
  readonly cameraFilters: readonly string[];
}

/** Draws a part of the 1280×720 drawing at a size in pixels. */
export function wrapSvg(
  size: { widthPx: number; heightPx: number },
  box: readonly number[],
  body: string,
): string {
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${size.widthPx}" height="${size.heightPx}" viewBox="${box.join(' ')}" preserveAspectRatio="none">${body}</svg>`;
}

/** A limb of two bones from `from` to `to`: the joint lies to one side. */
export function drawLimb(
  from: readonly [number, number],
  to: readonly [number, number],
  bend: number,
  width: number,
  color: string,
): string {
  const [x1, y1] = from;
  const [x2, y2] = to;
  const joint = [(x1 + x2) / 2 - (y2 - y1) * bend, (y1 + y2) / 2 + (x2 - x1) * bend];
  return `<polyline points="${x1},${y1} ${joint[0]?.toFixed(1)},${joint[1]?.toFixed(1)} ${x2.toFixed(1)},${y2.toFixed(1)}" fill="none" stroke="${color}" stroke-width="${width}" stroke-linecap="round" stroke-linejoin="round"/>`;
}

/** Smooth wandering between −1 and 1, the same for the same seed and time. */
export function wander(t: number, seed: number): number {
  return (
    (Math.sin(t * 2.1 + seed) +
      Math.sin(t * 3.7 + seed * 2.3) * 0.6 +
      Math.sin(t * 7.3 + seed * 1.7) * 0.25) /
    1.85
  );
}
