export type Triple = readonly [number, number, number];
export type Matrix3 = readonly [Triple, Triple, Triple];

/** CIE 1931 chromaticities of red, green, blue and white. */
export interface Primaries {
  readonly red: readonly [number, number];
  readonly green: readonly [number, number];
  readonly blue: readonly [number, number];
  readonly white: readonly [number, number];
}

/** D65 as ITU-R BT.709-6 and BT.2020-2 give it. */
const D65 = [0.3127, 0.329] as const;

export const primariesTable = {
  /** ITU-R BT.709-6, 1.3; also IEC 61966-2-1. */
  bt709: { red: [0.64, 0.33], green: [0.3, 0.6], blue: [0.15, 0.06], white: D65 },
  /** ITU-R BT.2020-2, table 3. */
  bt2020: { red: [0.708, 0.292], green: [0.17, 0.797], blue: [0.131, 0.046], white: D65 },
  /** SMPTE EG 432-1 with D65. */
  'display-p3': { red: [0.68, 0.32], green: [0.265, 0.69], blue: [0.15, 0.06], white: D65 },
} as const satisfies Record<string, Primaries>;
export type PrimariesId = keyof typeof primariesTable;

/** The matrix from linear R, G, B to CIE X, Y, Z with Y of white 1 (SMPTE RP 177-1993, 3.3). */
export function buildRgbToXyz(primaries: Primaries): Matrix3 {
  const column = ([x, y]: readonly [number, number]): Triple => [x / y, 1, (1 - x - y) / y];
  const [r, g, b] = [column(primaries.red), column(primaries.green), column(primaries.blue)];
  const plain: Matrix3 = [
    [r[0], g[0], b[0]],
    [r[1], g[1], b[1]],
    [r[2], g[2], b[2]],
  ];
  const scale = multiply(invert(plain), column(primaries.white));
  return plain.map((row) => row.map((value, index) => value * (scale[index] ?? 0))) as unknown as Matrix3;
}

/** From linear R, G, B of one set of primaries to another with the same white. */
export function buildRgbToRgb(from: PrimariesId, to: PrimariesId): Matrix3 {
  return multiplyMatrices(invert(buildRgbToXyz(primariesTable[to])), buildRgbToXyz(primariesTable[from]));
}

export function multiply(matrix: Matrix3, vector: Triple): Triple {
  return matrix.map(
    (row) => row[0] * vector[0] + row[1] * vector[1] + row[2] * vector[2],
  ) as unknown as Triple;
}

export function multiplyMatrices(left: Matrix3, right: Matrix3): Matrix3 {
  return left.map((row) =>
    [0, 1, 2].map((column) =>
      row.reduce((sum, value, index) => sum + value * (right[index]?.[column] ?? 0), 0),
    ),
  ) as unknown as Matrix3;
}

/** Throws a `RangeError` where the matrix has no inverse. */
export function invert(matrix: Matrix3): Matrix3 {
  const [[a, b, c], [d, e, f], [g, h, i]] = matrix;
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (Math.abs(determinant) < 1e-12) throw new RangeError('The matrix has no inverse.');
  const by = 1 / determinant;
  return [
    [(e * i - f * h) * by, (c * h - b * i) * by, (b * f - c * e) * by],
    [(f * g - d * i) * by, (a * i - c * g) * by, (c * d - a * f) * by],
    [(d * h - e * g) * by, (b * g - a * h) * by, (a * e - b * d) * by],
  ];
}
