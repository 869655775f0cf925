import { isPlainColor } from '../color/color-settings.ts';
import { buildColorTable } from '../color/color-table.ts';
import { findInPhoto, flatSize, mapToPhoto } from '../geometry/flatten.ts';
import { measureBars, readBarLevel } from '../geometry/frame.ts';
import { composeProjective, type Point, type Projective } from '../geometry/projective.ts';
import type { SizePx } from '../geometry/turn.ts';
import { mapGains } from '../light/even-light.ts';
import type { PictureWish } from '../recipe/picture-wish.ts';
import type { DeepPicture, RenderInput } from './render-picture.ts';

export interface RenderPlan {
  /** What the photograph is to be reduced to before it is rendered. */
  readonly reduced: SizePx;
  /** What is rendered of it then. */
  readonly fill: (source: DeepPicture) => RenderInput;
}

/** How a photograph of a size (upright, in points) is rendered as a recipe asks, at a size of the result. */
export function planRender(photo: SizePx, wish: PictureWish, size: SizePx): RenderPlan {
  const map = mapToPhoto(photo, wish);
  const share = chooseReduction(map, size);
  const find = findInPhoto(photo, wish);
  const toShares = ({ x, y }: Point) => ({ x: x / photo.widthPx, y: y / photo.heightPx });
  return {
    reduced: {
      widthPx: Math.max(1, Math.round(photo.widthPx * share)),
      heightPx: Math.max(1, Math.round(photo.heightPx * share)),
    },
    fill: (source) => ({
      source,
      map: composeProjective(map, scale(source.widthPx / photo.widthPx, source.heightPx / photo.heightPx)),
      size,
      table: wish.color && !isPlainColor(wish.color) ? buildColorTable(wish.color) : null,
      lens: wish.flatten?.lens ?? 0,
      gains: wish.light ? mapGains(wish.light, (place) => toShares(find(place))) : null,
      bars: measureBars(flatSize(photo, wish.flatten), wish),
      barLevel: readBarLevel(wish),
    }),
  };
}

const scale = (x: number, y: number): Projective => [x, 0, 0, 0, y, 0, 0, 0, 1];

/**
 * By how much a source is to be reduced before it is rendered, 0 to 1, so that no point of the result passes
 * over points of the source: by the finest place of the result, looked at on a grid.
 */
export function chooseReduction(map: Projective, size: SizePx): number {
  const [a, b, c, d, e, f, g, h, i] = map;
  const at = (u: number, v: number) => {
    const by = 1 / (g * u + h * v + i);
    return { x: (a * u + b * v + c) * by, y: (d * u + e * v + f) * by };
  };
  let least = Infinity;
  const STEPS = 6;
  for (let row = 0; row <= STEPS; row += 1)
    for (let column = 0; column <= STEPS; column += 1) {
      const [u, v] = [column / STEPS, row / STEPS];
      const here = at(u, v);
      const right = at(u + 1 / size.widthPx, v);
      const below = at(u, v + 1 / size.heightPx);
      const stepX = Math.sqrt((right.x - here.x) ** 2 + (right.y - here.y) ** 2);
      const stepY = Math.sqrt((below.x - here.x) ** 2 + (below.y - here.y) ** 2);
      least = Math.min(least, stepX, stepY);
    }
  return Math.min(1, 1 / Math.max(1, least));
}
