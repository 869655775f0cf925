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
  const r0 = r >= last ? last - 1 : Math.floor(r);
  const g0 = g >= last ? last - 1 : Math.floor(g);
  const b0 = b >= last ? last - 1 : Math.floor(b);
  const [fr, fg, fb] = [r - r0, g - g0, b - b0];
  const [stepR, stepG, stepB] = [3, 3 * edge, 3 * edge * edge];
  // Along the largest share first, along the smallest last.
  const isRedFirst = fr >= fg && fr >= fb;
  const isGreenFirst = !isRedFirst && fg >= fb;
  const isBlueLast = fb <= fg && fb <= fr;
  const isGreenLast = !isBlueLast && fg <= fr;
  const high = isRedFirst ? fr : isGreenFirst ? fg : fb;
  const low = isBlueLast ? fb : isGreenLast ? fg : fr;
  const middle = fr + fg + fb - high - low;
  const base = (r0 + g0 * edge + b0 * edge * edge) * 3;
  const all = base + stepR + stepG + stepB;
  const first = base + (isRedFirst ? stepR : isGreenFirst ? stepG : stepB);
  const before = all - (isBlueLast ? stepB : isGreenLast ? stepG : stepR);
  for (let side = 0; side < 3; side += 1)
    out[at + side] =
      (values[base + side] as number) * (1 - high) +
      (values[first + side] as number) * (high - middle) +
      (values[before + side] as number) * (middle - low) +
      (values[all + side] as number) * low;
}

/** R, G and B (0 to 1) of one point after the other, brought through a table in place. */
export function readColorRow(table: ColorTable, row: Float64Array, from: number, to: number): void {
  for (let at = from * 3; at < to * 3; at += 3)
    readColorTable(table, row[at] as number, row[at + 1] as number, row[at + 2] as number, row, at);
}
