import { weighCubic } from '../geometry/cubic.ts';
import { readColorTable, type ColorTable } from '../color/read-table.ts';
import type { Projective } from '../geometry/projective.ts';
import { gainSignal, readGainRow, type GainMap } from '../light/even-light.ts';
import type { SizePx } from '../geometry/turn.ts';

/** Three values a point, R, G and B, row after row, 0 to `most`. */
export interface DeepPicture extends SizePx {
  readonly levels: Uint8Array | Uint16Array;
  readonly most: 255 | 65_535;
}

export interface RenderInput {
  readonly source: DeepPicture;
  /** Where in the source, in its points, each share of the result's edges lies. */
  readonly map: Projective;
  readonly size: SizePx;
  /** What colors become; null leaves them. */
  readonly table: ColorTable | null;
  /** What light is multiplied by, before the table. */
  readonly gains?: GainMap | null;
  /** Shares of the result that are black on each side. */
  readonly bars?: { readonly x: number; readonly y: number };
}

/**
 * A picture brought to another frame and through a table, each point by the sixteen about its place (R. Keys,
 * Cubic convolution interpolation, 1981) in the depth of the source. What is made smaller has to be reduced
 * before, to about the size of the result (`chooseReduction`). Eight bits, R, G, B.
 */
export function renderPicture(input: RenderInput): Uint8Array {
  const { source, map, size, table } = input;
  const { levels, widthPx: w, heightPx: h, most } = source;
  const [a, b, c, d, e, f, g, i, j] = map;
  const made = new Uint8Array(size.widthPx * size.heightPx * 3);
  const [across, down] = [new Float64Array(4), new Float64Array(4)];
  const [columns, rows] = [new Int32Array(4), new Int32Array(4)];
  const [shown, out] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  const bars = input.bars ?? { x: 0, y: 0 };
  const { gains = null } = input;
  const lit = new Float32Array(gains ? size.widthPx * 3 : 0);
  for (let row = 0; row < size.heightPx; row += 1) {
    const v = (row + 0.5) / size.heightPx;
    if (gains) readGainRow(gains, v, size.widthPx, lit);
    for (let column = 0; column < size.widthPx; column += 1) {
      const u = (column + 0.5) / size.widthPx;
      if (u < bars.x || v < bars.y || u > 1 - bars.x || v > 1 - bars.y) continue;
      const by = 1 / (g * u + i * v + j);
      const x = (a * u + b * v + c) * by - 0.5;
      const y = (d * u + e * v + f) * by - 0.5;
      const [left, top] = [Math.floor(x), Math.floor(y)];
      weighCubic(x - left, across);
      weighCubic(y - top, down);
      for (let tap = 0; tap < 4; tap += 1) {
        columns[tap] = 3 * Math.max(0, Math.min(w - 1, left - 1 + tap));
        rows[tap] = 3 * w * Math.max(0, Math.min(h - 1, top - 1 + tap));
      }
      let [red, green, blue] = [0, 0, 0];
      for (let line = 0; line < 4; line += 1) {
        const [weight, from] = [down[line] as number, rows[line] as number];
        for (let tap = 0; tap < 4; tap += 1) {
          const share = weight * (across[tap] as number);
          const at = from + (columns[tap] as number);
          red += share * (levels[at] as number);
          green += share * (levels[at + 1] as number);
          blue += share * (levels[at + 2] as number);
        }
      }
      const to = (row * size.widthPx + column) * 3;
      shown[0] = clamp(red / most);
      shown[1] = clamp(green / most);
      shown[2] = clamp(blue / most);
      if (gains)
        for (let side = 0; side < 3; side += 1)
          shown[side] = gainSignal(shown[side] as number, lit[column * 3 + side] as number);
      if (table) readColorTable(table, shown[0], shown[1], shown[2], out);
      const final = table ? out : shown;
      made[to] = Math.round((final[0] as number) * 255);
      made[to + 1] = Math.round((final[1] as number) * 255);
      made[to + 2] = Math.round((final[2] as number) * 255);
    }
  }
  return made;
}

const clamp = (value: number) => (value < 0 ? 0 : value > 1 ? 1 : value);

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
