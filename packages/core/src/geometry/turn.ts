import { z } from 'zod';

/** Clockwise quarter turns that a person may ask for. */
export const TurnDegrees = z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]);
export type TurnDegrees = z.infer<typeof TurnDegrees>;

export interface SizePx {
  readonly widthPx: number;
  readonly heightPx: number;
}

/** The size of a picture after a clockwise turn. */
export function turnSize(size: SizePx, turnDegrees: TurnDegrees): SizePx {
  return turnDegrees === 90 || turnDegrees === 270
    ? { widthPx: size.heightPx, heightPx: size.widthPx }
    : size;
}

/** Adds a further clockwise quarter turn. */
export function addQuarterTurn(turnDegrees: TurnDegrees, quarters: 1 | -1): TurnDegrees {
  return ((turnDegrees + quarters * 90 + 360) % 360) as TurnDegrees;
}

/**
 * The largest size with the picture's proportions whose edges stay inside the given ceilings; never enlarges.
 * `multiple` rounds both edges down to a multiple (2 for 4:2:0 video), at least one multiple.
 */
export function fitSizeInside(
  size: SizePx,
  ceilings: { widthPx?: number; heightPx?: number; longEdgePx?: number; shortEdgePx?: number },
  multiple: 1 | 2 = 1,
): SizePx {
  const long = Math.max(size.widthPx, size.heightPx);
  const short = Math.min(size.widthPx, size.heightPx);
  const wantedScale = Math.min(
    1,
    (ceilings.widthPx ?? Infinity) / size.widthPx,
    (ceilings.heightPx ?? Infinity) / size.heightPx,
    (ceilings.longEdgePx ?? Infinity) / long,
    (ceilings.shortEdgePx ?? Infinity) / short,
  );
  // The shorter edge lands on a multiple first, so that the longer one keeps the proportions as closely as it
  // can.
  const scale = Math.max(multiple, Math.floor((short * wantedScale) / multiple + 1e-9) * multiple) / short;
  const round = (edge: number, ceiling: number) => {
    const nearest = Math.round((edge * scale) / multiple) * multiple;
    const highest = Math.floor(Math.min(ceiling, edge) / multiple) * multiple;
    return Math.max(multiple, Math.min(nearest, highest));
  };
  const isWide = size.widthPx >= size.heightPx;
  const widthCeiling = Math.min(
    ceilings.widthPx ?? Infinity,
    (isWide ? ceilings.longEdgePx : ceilings.shortEdgePx) ?? Infinity,
  );
  const heightCeiling = Math.min(
    ceilings.heightPx ?? Infinity,
    (isWide ? ceilings.shortEdgePx : ceilings.longEdgePx) ?? Infinity,
  );
  return { widthPx: round(size.widthPx, widthCeiling), heightPx: round(size.heightPx, heightCeiling) };
}

/**
 * The largest size with the picture's proportions inside another picture, enlarged where it is smaller, both
 * edges even; the other picture's own size where the shapes differ by less than a rounding.
 */
export function containSize(size: SizePx, outer: SizePx): SizePx {
  const scale = Math.min(outer.widthPx / size.widthPx, outer.heightPx / size.heightPx);
  const fit = (edge: number, most: number) => {
    const even = Math.min(Math.max(2, Math.round((edge * scale) / 2) * 2), most);
    return most - even <= 2 ? most : even;
  };
  return { widthPx: fit(size.widthPx, outer.widthPx), heightPx: fit(size.heightPx, outer.heightPx) };
}
