import { isPlainColor, type ColorSettings } from '../color/color-settings.ts';
import { flatSize, type Flatten } from '../geometry/flatten.ts';
import { frameSize, isReframed, type Framing } from '../geometry/frame.ts';
import type { EvenLight } from '../light/even-light.ts';
import type { HiddenArea } from '../geometry/hidden.ts';
import type { SizePx } from '../geometry/turn.ts';

/** What a recipe does to a picture. */
export interface PictureWish extends Framing {
  readonly color: ColorSettings | null;
  readonly hidden?: readonly HiddenArea[];
  readonly steady?: number | null;
  readonly flatten?: Flatten | null;
  readonly light?: EvenLight | null;
}

/** Size of a picture as a recipe leaves it, in its own points; not rounded. */
export const measureShaped = (size: SizePx, wish: PictureWish): SizePx =>
  frameSize(flatSize(size, wish.flatten), wish);

/** Whether a picture is changed beyond turning and mirroring. */
export function isReshaped(wish: PictureWish): boolean {
  return (
    isMoved(wish) ||
    !isPlainColor(wish.color) ||
    (wish.hidden ?? []).length > 0 ||
    (wish.light ?? null) !== null
  );
}

/** Whether its points come to lie between those of the recording. */
export const isMoved = (wish: PictureWish) =>
  isReframed(wish) || (wish.steady ?? null) !== null || (wish.flatten ?? null) !== null;
