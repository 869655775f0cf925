import { applyProjective, invertProjective, mapSquareTo, type Quad } from '../geometry/projective.ts';
import type { RgbPicture } from '../picture/rgb-picture.ts';
import { createRandom } from './piece-scene.ts';

/** Size of the shots. */
export const [W, H] = [640, 480] as const;
const toSignal = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);

/** Reflected light of a painted board at a place, 0 to 1 across it; a grey table around it. */
function paint(u: number, v: number): readonly [number, number, number] {
  if (u < 0 || v < 0 || u > 1 || v > 1) return [0.09, 0.08, 0.07];
  if (u < 0.04 || v < 0.04 || u > 0.96 || v > 0.96) return [0.75, 0.74, 0.7];
  const ring = Math.sin(40 * Math.hypot(u - 0.4, v - 0.55)) > 0.2;
  const hatch = Math.sin(90 * u + 25 * v + 3 * Math.sin(9 * v)) > 0.3;
  const warm = 0.5 + 0.5 * Math.sin(5 * u + 3 * v);
  const base = ring ? 0.34 : 0.14;
  return [base + 0.25 * warm, base + (hatch ? 0.16 : 0.02), base + 0.2 * (1 - warm)];
}

export interface GlareWish {
  readonly corners: Quad;
  /** Where the lamp stands above the board, and where it is seen in it; null for nowhere. */
  readonly lamp: { readonly u: number; readonly v: number };
  readonly glare: { readonly u: number; readonly v: number } | null;
  readonly seed: number;
}
/** A painted board on a table, photographed by the light of one lamp that may be seen in its varnish. */
export function photographBoard({
  corners,
  lamp,
  glare,
  seed,
}: GlareWish): RgbPicture & { readonly bytes: Uint8Array } {
  const random = createRandom(seed);
  const toBoard = invertProjective(mapSquareTo(corners.map(({ x, y }) => ({ x: x * W, y: y * H })) as never));
  const bytes = new Uint8Array(W * H * 3);
  for (let y = 0; y < H; y += 1)
    for (let x = 0; x < W; x += 1) {
      // Four looks a point, as a lens blurs.
      const sums = [0, 0, 0];
      for (const [dx, dy] of [
        [0.25, 0.25],
        [0.75, 0.25],
        [0.25, 0.75],
        [0.75, 0.75],
      ] as const) {
        const at = applyProjective(toBoard, { x: x + dx, y: y + dy });
        const fall = 1 / (1 + ((at.x - lamp.u) ** 2 + (at.y - lamp.v) ** 2) / 2.2) ** 1.5;
        const shine = glare ? 1.4 * Math.exp(-((at.x - glare.u) ** 2 + (at.y - glare.v) ** 2) / 0.006) : 0;
        paint(at.x, at.y).forEach(
          (light, side) => (sums[side] = (sums[side] ?? 0) + (light * fall + shine) / 4),
        );
      }
      const grain = 1.5 * (random() + random() - 1);
      sums.forEach((light, side) => {
        const level = 255 * toSignal(Math.min(1, light)) + grain;
        bytes[(y * W + x) * 3 + side] = Math.max(0, Math.min(255, Math.round(level)));
      });
    }
  return { widthPx: W, heightPx: H, bytes, bands: 3 };
}
export const placeCorners = (points: readonly (readonly [number, number])[]) =>
  points.map(([x, y]) => ({ x, y })) as unknown as Quad;
/** As it lies in the first shot. */
export const HELD = placeCorners([
  [0.12, 0.1],
  [0.88, 0.13],
  [0.9, 0.9],
  [0.09, 0.87],
]);
/** The hand moved a little between both. */
export const MOVED = placeCorners([
  [0.128, 0.092],
  [0.886, 0.118],
  [0.913, 0.887],
  [0.104, 0.869],
]);
export const lampA = { u: 0.3, v: 0.2 };
export const lampB = { u: 0.8, v: 0.4 };
