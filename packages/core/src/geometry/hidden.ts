import { z } from 'zod';

export const MOST_HIDDEN = 8;
/** Cells that a hidden area is averaged to across its longer edge before it is blurred. */
export const HIDDEN_CELLS = 6;

const share = z.number().min(0).max(1);
const radius = z.number().min(0.02).max(0.5);

/** Where the middle of a hidden area lies at a moment of the take, in shares of the upright picture. */
export const HiddenMark = z.strictObject({ timeUs: z.int().min(0), x: share, y: share });
export type HiddenMark = z.infer<typeof HiddenMark>;

/**
 * An ellipse of the recipe's own take that is averaged to a few cells, so that nothing can bring it back. It
 * moves in straight lines from mark to mark, and stands still before the first and after the last.
 */
export const HiddenArea = z
  .strictObject({
    /** Half its width and height, in shares of the upright picture's. */
    radiusX: radius,
    radiusY: radius,
    path: z.array(HiddenMark).min(1).max(60),
  })
  .refine(
    (area) =>
      area.path.every((mark, index) => index === 0 || mark.timeUs > (area.path[index - 1]?.timeUs ?? 0)),
    {
      message: 'Marks have to stand in the order of their times.',
    },
  );
export type HiddenArea = z.infer<typeof HiddenArea>;

/** A point in shares of the picture. */
export interface Place {
  readonly x: number;
  readonly y: number;
}

/** The middle of an ellipse that lies inside the picture as a whole. */
export function keepInside(
  place: Place,
  { radiusX, radiusY }: Pick<HiddenArea, 'radiusX' | 'radiusY'>,
): Place {
  const clamp = (value: number, radiusOf: number) => Math.max(radiusOf, Math.min(1 - radiusOf, value));
  return { x: clamp(place.x, radiusX), y: clamp(place.y, radiusY) };
}

/** Where a hidden area lies at a moment of the take. */
export function findHidden(area: HiddenArea, timeUs: number): Place {
  const { path } = area;
  const after = path.findIndex((mark) => mark.timeUs > timeUs);
  const before = path[after < 0 ? path.length - 1 : after - 1];
  const next = after < 0 ? undefined : path[after];
  if (!before) return keepInside(next ?? { x: 0.5, y: 0.5 }, area);
  if (!next) return keepInside(before, area);
  const way = (timeUs - before.timeUs) / (next.timeUs - before.timeUs);
  return keepInside(
    { x: before.x + (next.x - before.x) * way, y: before.y + (next.y - before.y) * way },
    area,
  );
}

/** The same area with its middle elsewhere at a moment: the mark there is moved, or set anew. */
export function markHidden(area: HiddenArea, timeUs: number, place: Place): HiddenArea {
  const { x, y } = keepInside(place, area);
  const at = Math.max(0, Math.round(timeUs));
  const others = area.path.filter((mark) => Math.abs(mark.timeUs - at) > 1);
  const path = [...others, { timeUs: at, x, y }].sort((left, right) => left.timeUs - right.timeUs);
  return { ...area, path: path.slice(-60) };
}

/** Cells along both edges of the box about an ellipse: as square as they can be. */
export function countHiddenCells(widthPx: number, heightPx: number): { across: number; down: number } {
  const longer = Math.max(widthPx, heightPx);
  const cells = (edge: number) => Math.max(1, Math.round((HIDDEN_CELLS * edge) / longer));
  return { across: cells(widthPx), down: cells(heightPx) };
}

/**
 * One picture with ellipses averaged to cells, between whose middles levels go over in straight lines: what a
 * maker does with finer filters. `levels` has `sides` values a point, row after row; changed in place.
 */
export function hideInLevels(
  levels: Uint8Array,
  size: { readonly widthPx: number; readonly heightPx: number },
  areas: readonly (Pick<HiddenArea, 'radiusX' | 'radiusY'> & { readonly place: Place })[],
  sides: 1 | 3,
): void {
  const { widthPx: w, heightPx: h } = size;
  for (const { place, radiusX, radiusY } of areas) {
    const box = {
      x: (place.x - radiusX) * w,
      y: (place.y - radiusY) * h,
      width: 2 * radiusX * w,
      height: 2 * radiusY * h,
    };
    const { across, down } = countHiddenCells(box.width, box.height);
    const cells = averageCells(levels, w, h, box, across, down, sides);
    const [firstX, lastX] = [Math.max(0, Math.floor(box.x)), Math.min(w - 1, Math.ceil(box.x + box.width))];
    const [firstY, lastY] = [Math.max(0, Math.floor(box.y)), Math.min(h - 1, Math.ceil(box.y + box.height))];
    for (let y = firstY; y <= lastY; y += 1)
      for (let x = firstX; x <= lastX; x += 1) {
        const [u, v] = [(x + 0.5 - box.x) / box.width, (y + 0.5 - box.y) / box.height];
        if ((2 * u - 1) ** 2 + (2 * v - 1) ** 2 > 1) continue;
        for (let side = 0; side < sides; side += 1)
          levels[(y * w + x) * sides + side] = Math.round(
            readCells(cells, across, down, u * across - 0.5, v * down - 0.5, sides, side),
          );
      }
  }
}

function averageCells(
  levels: Uint8Array,
  w: number,
  h: number,
  box: { x: number; y: number; width: number; height: number },
  across: number,
  down: number,
  sides: number,
): Float32Array {
  const cells = new Float32Array(across * down * sides);
  const counts = new Float32Array(across * down);
  // A grid over the box rather than its points: small pictures have few of them.
  const GRID = 4;
  for (let row = 0; row < down * GRID; row += 1)
    for (let column = 0; column < across * GRID; column += 1) {
      const x = Math.floor(box.x + ((column + 0.5) * box.width) / (across * GRID));
      const y = Math.floor(box.y + ((row + 0.5) * box.height) / (down * GRID));
      if (x < 0 || y < 0 || x >= w || y >= h) continue;
      const cell = Math.floor(row / GRID) * across + Math.floor(column / GRID);
      counts[cell] = (counts[cell] ?? 0) + 1;
      for (let side = 0; side < sides; side += 1)
        cells[cell * sides + side] =
          (cells[cell * sides + side] ?? 0) + (levels[(y * w + x) * sides + side] ?? 0);
    }
  return cells.map((sum, index) => sum / Math.max(1, counts[Math.floor(index / sides)] ?? 1));
}

function readCells(
  cells: Float32Array,
  across: number,
  down: number,
  x: number,
  y: number,
  sides: number,
  side: number,
): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  const at = (column: number, row: number) =>
    cells[
      (Math.max(0, Math.min(down - 1, row)) * across + Math.max(0, Math.min(across - 1, column))) * sides +
        side
    ] ?? 0;
  return (
    (at(x0, y0) * (1 - fx) + at(x0 + 1, y0) * fx) * (1 - fy) +
    (at(x0, y0 + 1) * (1 - fx) + at(x0 + 1, y0 + 1) * fx) * fy
  );
}
