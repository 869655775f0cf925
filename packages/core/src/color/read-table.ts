/** A table from signal R, G, B to signal R, G, B (0 to 1): `edge` points along each, red fastest. */
export interface ColorTable {
  readonly edge: number;
  /** `edge`³ × 3 values. */
  readonly values: Float32Array;
}

/** Reads a table between its points by tetrahedra; R, G, B 0 to 1 into `out` from `at` on. */
export function readColorTable(
  { edge, values }: ColorTable,
  red: number,
  green: number,
  blue: number,
  out: Float32Array | Float64Array | number[],
  at = 0,
): void {
  const last = edge - 1;
  const r = red <= 0 ? 0 : red >= 1 ? last : red * last;
  const g = green <= 0 ? 0 : green >= 1 ? last : green * last;
  const b = blue <= 0 ? 0 : blue >= 1 ? last : blue * last;
  const r0 = r >= last ? last - 1 : r | 0;
  const g0 = g >= last ? last - 1 : g | 0;
  const b0 = b >= last ? last - 1 : b | 0;
  const fr = r - r0;
  const fg = g - g0;
  const fb = b - b0;
  const stepR = 3;
  const stepG = stepR * edge;
  const stepB = stepG * edge;
  // Along the largest share first, along the smallest last.
  let first = stepG;
  let second = stepR;
  let high = fg;
  let middle = fr;
  let low = fb;
  if (fr >= fg) {
    first = fb > fr ? stepB : stepR;
    second = fb > fr ? stepR : fb > fg ? stepB : stepG;
    high = fb > fr ? fb : fr;
    middle = fb > fr ? fr : fb > fg ? fb : fg;
    low = fb > fg ? fg : fb;
  } else if (fb > fr) {
    first = fb > fg ? stepB : stepG;
    second = fb > fg ? stepG : stepB;
    high = fb > fg ? fb : fg;
    middle = fb > fg ? fg : fb;
    low = fr;
  }
  const base = stepR * r0 + stepG * g0 + stepB * b0;
  const all = base + stepR + stepG + stepB;
  const next = base + first;
  const before = next + second;
  const w0 = 1 - high;
  const w1 = high - middle;
  const w2 = middle - low;
  for (let side = 0; side < 3; side += 1)
    out[at + side] =
      (values[base + side] as number) * w0 +
      (values[next + side] as number) * w1 +
      (values[before + side] as number) * w2 +
      (values[all + side] as number) * low;
}

/** R, G and B (0 to 1) of one point after the other, brought through a table in place. */
export function readColorRow(table: ColorTable, row: Float64Array, from: number, to: number): void {
  for (let at = from * 3; at < to * 3; at += 3)
    readColorTable(table, row[at] as number, row[at + 1] as number, row[at + 2] as number, row, at);
}
