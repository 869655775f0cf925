import { readColorTable, type ColorTable } from '@apodix/core';
import { FULL } from './table-painter.ts';

/** How the light of a picture is spread. */
export interface Tones {
  /** Share of the points in each of so many steps from black to white, of the strongest step 1. */
  readonly columns: readonly number[];
  /** Share of the points at full white and at full black. */
  readonly whiteShare: number;
  readonly blackShare: number;
}

const COLUMNS = 48;

/** Reads eight-bit R, G, B, A as it is shown through a table, or as it is without one. */
export function readTones(data: Uint8ClampedArray, table: ColorTable | null): Tones {
  const counts = new Float64Array(COLUMNS);
  const out = [0, 0, 0];
  let [white, black] = [0, 0];
  for (let at = 0; at < data.length; at += 4) {
    const [red, green, blue] = [(data[at] ?? 0) / 255, (data[at + 1] ?? 0) / 255, (data[at + 2] ?? 0) / 255];
    if (table) readColorTable(table, red, green, blue, out);
    else out.splice(0, 3, red, green, blue);
    const [r = 0, g = 0, b = 0] = out;
    const luma = 0.2126 * r + 0.7152 * g + 0.0722 * b;
    const column = Math.max(0, Math.min(COLUMNS - 1, Math.floor(luma * COLUMNS)));
    counts[column] = (counts[column] ?? 0) + 1;
    if (Math.min(r, g, b) >= FULL.white) white += 1;
    if (Math.max(r, g, b) <= FULL.black) black += 1;
  }
  const points = Math.max(1, data.length / 4);
  const most = Math.max(1, ...counts);
  return {
    columns: Array.from(counts, (count) => count / most),
    whiteShare: white / points,
    blackShare: black / points,
  };
}

/** Mean R, G, B about a place, in shares of the edges; reach in points. */
export function readPlace(
  { data, width, height }: Pick<ImageData, 'data' | 'width' | 'height'>,
  x: number,
  y: number,
  reach = 3,
): [number, number, number] {
  const [cx, cy] = [Math.round(x * (width - 1)), Math.round(y * (height - 1))];
  const sums: [number, number, number] = [0, 0, 0];
  let count = 0;
  for (let py = Math.max(0, cy - reach); py <= Math.min(height - 1, cy + reach); py += 1)
    for (let px = Math.max(0, cx - reach); px <= Math.min(width - 1, cx + reach); px += 1) {
      const at = (py * width + px) * 4;
      sums[0] += data[at] ?? 0;
      sums[1] += data[at + 1] ?? 0;
      sums[2] += data[at + 2] ?? 0;
      count += 1;
    }
  return sums.map((sum) => sum / Math.max(1, count)) as [number, number, number];
}
