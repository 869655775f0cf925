import { weighCubic } from '../geometry/cubic.ts';
import { readColorRow, type ColorTable } from '../color/read-table.ts';
import type { Projective } from '../geometry/projective.ts';
import { gainSignals, readGainRow, type GainMap } from '../light/gain-map.ts';
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
  /** How the lens of the source bent it (`bendPoint`), after the map; not at all where nobody says. */
  readonly lens?: number;
  readonly size: SizePx;
  /** What colors become; null leaves them. */
  readonly table: ColorTable | null;
  /** What light is multiplied by, before the table. */
  readonly gains?: GainMap | null;
  /** Shares of the result that are bars on each side. */
  readonly bars?: { readonly x: number; readonly y: number };
  /** What they are filled with, 0 to 255; black where nobody says. */
  readonly barLevel?: number;
}

/**
 * A picture brought to another frame and through a table, each point by the sixteen about its place (R. Keys,
 * Cubic convolution interpolation, 1981) in the depth of the source. What is made smaller has to be reduced
 * before, to about the size of the result (`chooseReduction`). Eight bits, R, G, B.
 */
export function renderPicture(input: RenderInput): Uint8Array {
  const { widthPx, heightPx } = input.size;
  const made = new Uint8Array(widthPx * heightPx * 3);
  renderRows(input, 0, heightPx, made);
  return made;
}

/**
 * The rows from `first` to before `end` of what `renderPicture` gives, written to their places in `made`.
 * Row by row and step by step, so that no number is boxed on its way from one step to the next.
 */
export function renderRows(input: RenderInput, first: number, end: number, made: Uint8Array): void {
  const { size, table, gains = null, barLevel = 0 } = input;
  const { widthPx } = size;
  const bars = input.bars ?? { x: 0, y: 0 };
  const row = new Float64Array(widthPx * 3);
  const lit = new Float32Array(gains ? widthPx * 3 : 0);
  // The middle of a point that lies in a bar is not shown.
  const from = Math.max(0, Math.ceil(bars.x * widthPx - 0.5));
  const to = Math.min(widthPx, Math.floor((1 - bars.x) * widthPx - 0.5) + 1);
  for (let line = first; line < end; line += 1) {
    const v = (line + 0.5) / size.heightPx;
    const start = line * widthPx * 3;
    // Nothing is shown yet: black needs no filling.
    if (barLevel > 0) made.fill(barLevel, start, start + widthPx * 3);
    if (v < bars.y || v > 1 - bars.y) continue;
    readRow(input, v, from, to, row);
    if (gains) {
      readGainRow(gains, v, widthPx, lit);
      gainSignals(row, lit, from * 3, to * 3);
    }
    if (table) readColorRow(table, row, from, to);
    // None is below 0: half a level more, cut off, is the nearest.
    for (let at = from * 3; at < to * 3; at += 1) made[start + at] = (row[at] as number) * 255 + 0.5;
  }
}

/** Weights are kept in whole shares of this, for so many places between two points. */
const UNIT = 8192;
const PARTS = 2048;
const WEIGHTS = listWeights();

function listWeights(): Int32Array {
  const made = new Int32Array((PARTS + 1) * 4);
  const four = new Float64Array(4);
  for (let part = 0; part <= PARTS; part += 1) {
    weighCubic(part / PARTS, four);
    const whole = Array.from(four, (weight) => Math.round(weight * UNIT));
    // Together they are one: a level grey stays what it is.
    const most = part * 2 < PARTS ? 1 : 2;
    whole[most] = (whole[most] ?? 0) + UNIT - whole.reduce((sum, weight) => sum + weight, 0);
    made.set(whole, part * 4);
  }
  return made;
}

/** One row of a picture in its frame, R, G and B, 0 to 1, from one column to before another. */
function readRow(
  { source, map, lens = 0, size }: RenderInput,
  v: number,
  from: number,
  to: number,
  out: Float64Array,
) {
  const { levels, widthPx: w, heightPx: h, most } = source;
  const [a, b, c, d, e, f, g, i, j] = map;
  const down = new Float64Array(4);
  const [stride, scale] = [3 * w, 1 / most / UNIT];
  const [middleX, middleY, bend] = [w / 2 - 0.5, h / 2 - 0.5, (4 * lens) / (w * w + h * h)];
  for (let column = from; column < to; column += 1) {
    const u = (column + 0.5) / size.widthPx;
    const by = 1 / (g * u + i * v + j);
    let x = (a * u + b * v + c) * by - 0.5;
    let y = (d * u + e * v + f) * by - 0.5;
    if (bend !== 0) {
      const dx = x - middleX;
      const dy = y - middleY;
      const more = bend * (dx * dx + dy * dy);
      x += dx * more;
      y += dy * more;
    }
    const left = Math.floor(x);
    const top = Math.floor(y);
    // Along a row in whole numbers, which processors turn into others only at its end.
    const part = ((x - left) * PARTS + 0.5) | 0;
    const w0 = WEIGHTS[part * 4] as number;
    const w1 = WEIGHTS[part * 4 + 1] as number;
    const w2 = WEIGHTS[part * 4 + 2] as number;
    const w3 = WEIGHTS[part * 4 + 3] as number;
    weighCubic(y - top, down);
    // Within the picture four neighbours lie side by side; at its border the outermost point goes on.
    const isWithin = left > 0 && left < w - 2 && top > 0 && top < h - 2;
    const c0 = isWithin ? 3 * left - 3 : 3 * hold(w, left - 1);
    const c1 = isWithin ? c0 + 3 : 3 * hold(w, left);
    const c2 = isWithin ? c0 + 6 : 3 * hold(w, left + 1);
    const c3 = isWithin ? c0 + 9 : 3 * hold(w, left + 2);
    let red = 0;
    let green = 0;
    let blue = 0;
    for (let line = 0; line < 4; line += 1) {
      const weight = down[line] as number;
      const start = stride * (isWithin ? top - 1 + line : hold(h, top - 1 + line));
      const p = start + c0;
      const q = start + c1;
      const r = start + c2;
      const s = start + c3;
      red +=
        weight *
        ((Math.imul(w0, levels[p] as number) +
          Math.imul(w1, levels[q] as number) +
          Math.imul(w2, levels[r] as number) +
          Math.imul(w3, levels[s] as number)) |
          0);
      green +=
        weight *
        ((Math.imul(w0, levels[p + 1] as number) +
          Math.imul(w1, levels[q + 1] as number) +
          Math.imul(w2, levels[r + 1] as number) +
          Math.imul(w3, levels[s + 1] as number)) |
          0);
      blue +=
        weight *
        ((Math.imul(w0, levels[p + 2] as number) +
          Math.imul(w1, levels[q + 2] as number) +
          Math.imul(w2, levels[r + 2] as number) +
          Math.imul(w3, levels[s + 2] as number)) |
          0);
    }
    out[column * 3] = clamp(red * scale);
    out[column * 3 + 1] = clamp(green * scale);
    out[column * 3 + 2] = clamp(blue * scale);
  }
}

const hold = (edge: number, place: number) => (place < 0 ? 0 : place >= edge ? edge - 1 : place);
const clamp = (value: number) => (value < 0 ? 0 : value > 1 ? 1 : value);

/** Rows that are rendered in one go by one of several threads. */
const ROWS = 16;

/**
 * Renders rows that nobody else has taken yet until none is left; `taken` counts blocks of them, shared by
 * all that work on the same picture.
 */
export function renderTogether(input: RenderInput, made: Uint8Array, taken: Int32Array): void {
  const { heightPx } = input.size;
  for (;;) {
    const first = Atomics.add(taken, 0, 1) * ROWS;
    if (first >= heightPx) return;
    renderRows(input, first, Math.min(heightPx, first + ROWS), made);
  }
}
