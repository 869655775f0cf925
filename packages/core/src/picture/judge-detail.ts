import { isWithin } from '../geometry/projective.ts';
import type { PhotoFacts, SeenDetail } from '../media/facts.ts';

/** Edges blurred by less, in points of a screen, are clear to everyone; by more than the other, to nobody. */
const BLUR_PX = { clear: 1.2, soft: 2 } as const;
/** Of all parts with edges so many have to be clear for the whole to be. */
const MOST_PARTS = 0.8;
const FEW_PARTS = 0.1;
const LEAST_PARTS = 6;
/** More than this is seen at first sight. */
const GRAIN = 6;
/** Letters that are to be read need so many points for a stroke and for their height. */
const LEGIBLE = { strokePx: 1.4, heightPx: 8 } as const;

export type Clearness = 'clear' | 'partly' | 'soft' | 'nowhere-told';

/** What the detail of a photograph means for whoever hands it in. */
export interface DetailVerdict {
  readonly clearness: Clearness;
  /** Parts with edges, and how many of them are clear. */
  readonly partsTold: number;
  readonly partsClear: number;
  readonly isGrainy: boolean;
  /** null where no writing was seen. */
  readonly writing: 'legible' | 'too-small' | null;
}

/** Whether edges blurred by so much, looked at with `edgePx` points, are clear on a screen. */
export const isClearPart = (blurPx: number) => blurPx <= BLUR_PX.clear;
export const isSoftPart = (blurPx: number) => blurPx > BLUR_PX.soft;

/** Blurs of the parts that lie on the piece, or of all where none was found; null elsewhere and without. */
export function pickPieceParts(detail: SeenDetail, piece: PhotoFacts['piece']): (number | null)[] {
  const corners = piece?.corners;
  const { columns, rows } = detail;
  return detail.blursPx.map((blur, part) => {
    const middle = { x: ((part % columns) + 0.5) / columns, y: (Math.floor(part / columns) + 0.5) / rows };
    return !corners || isWithin(corners, middle) ? blur : null;
  });
}

/** null where nobody looked. */
export function judgeDetail({ detail, piece }: Pick<PhotoFacts, 'detail' | 'piece'>): DetailVerdict | null {
  if (!detail) return null;
  const { grain, writing } = detail;
  const told = pickPieceParts(detail, piece).filter((blur) => blur !== null);
  const partsClear = told.filter(isClearPart).length;
  const share = partsClear / Math.max(1, told.length);
  const isAnySoft = told.filter(isSoftPart).length >= Math.max(2, told.length * FEW_PARTS);
  const clearness =
    told.length < LEAST_PARTS
      ? 'nowhere-told'
      : share >= MOST_PARTS
        ? 'clear'
        : share <= FEW_PARTS
          ? 'soft'
          : isAnySoft
            ? 'partly'
            : 'clear';
  const isLegible =
    writing !== null && writing.strokePx >= LEGIBLE.strokePx && writing.heightPx >= LEGIBLE.heightPx;
  return {
    clearness,
    partsTold: told.length,
    partsClear,
    isGrainy: grain > GRAIN,
    writing: writing === null ? null : isLegible ? 'legible' : 'too-small',
  };
}
