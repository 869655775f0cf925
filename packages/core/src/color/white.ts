import {
  invert,
  buildRgbToXyz,
  multiply,
  multiplyMatrices,
  primariesTable,
  type Matrix3,
  type Triple,
} from './spaces.ts';

/** The color of a light: correlated color temperature, and how far it lies off the line of such lights. */
export interface LightColor {
  readonly kelvin: number;
  /** Distance in CIE 1960 u, v; above 0 greener, below pinker. */
  readonly tint: number;
}

export const KELVIN_BOUNDS = [1700, 20_000] as const;
export const MOST_TINT = 0.05;

/** CAT16 (Li, Li, Wang, Zu, Luo, Cui, Melgosa, Brill and Pointer 2017): X, Y, Z to sharpened responses. */
const CAT16: Matrix3 = [
  [0.401288, 0.650173, -0.051461],
  [-0.250268, 1.204414, 0.045854],
  [-0.002079, 0.048952, 0.953127],
];
const FROM_CAT16 = invert(CAT16);
const TO_XYZ = buildRgbToXyz(primariesTable.bt709);
const FROM_XYZ = invert(TO_XYZ);
const D65 = primariesTable.bt709.white;

type Uv = readonly [number, number];
const toUv = ([x, y]: readonly [number, number]): Uv => {
  const by = 1 / (-2 * x + 12 * y + 3);
  return [4 * x * by, 6 * y * by];
};
const fromUv = ([u, v]: Uv): readonly [number, number] => {
  const by = 1 / (2 * u - 8 * v + 4);
  return [3 * u * by, 2 * v * by];
};

/**
 * Chromaticity of a black body in CIE 1960 u, v (rational fit of Krystek 1985; within 9e-5 from 1000 to
 * 15 000 K).
 */
function readBlackBody(kelvin: number): Uv {
  const t = kelvin;
  return [
    (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) /
      (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t),
    (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) /
      (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t),
  ];
}

/** The direction away from the line of black bodies, toward green, of length 1. */
function readNormal(kelvin: number): Uv {
  const [before, after] = [readBlackBody(kelvin * 0.995), readBlackBody(kelvin * 1.005)];
  const [du, dv] = [after[0] - before[0], after[1] - before[1]];
  const by = (du < 0 ? -1 : 1) / Math.hypot(du, dv);
  return [-dv * by, du * by];
}

/** CIE 1931 x, y of a light. */
export function readChromaticity({ kelvin, tint }: LightColor): readonly [number, number] {
  const [u, v] = readBlackBody(kelvin);
  const [nu, nv] = readNormal(kelvin);
  return fromUv([u + nu * tint, v + nv * tint]);
}

/** The light of a chromaticity: the nearest black body and the distance from it; inside the bounds. */
export function describeLight(xy: readonly [number, number]): LightColor {
  const wanted = toUv(xy);
  // Along reciprocal temperature the line is traversed evenly.
  let [low, high] = [1e6 / KELVIN_BOUNDS[1], 1e6 / KELVIN_BOUNDS[0]];
  const off = (mired: number) => {
    const [u, v] = readBlackBody(1e6 / mired);
    return (u - wanted[0]) ** 2 + (v - wanted[1]) ** 2;
  };
  for (let step = 0; step < 60; step += 1) {
    const [left, right] = [low + (high - low) / 3, high - (high - low) / 3];
    if (off(left) < off(right)) high = right;
    else low = left;
  }
  const kelvin = 2e6 / (low + high);
  const [u, v] = readBlackBody(kelvin);
  const [nu, nv] = readNormal(kelvin);
  const tint = (wanted[0] - u) * nu + (wanted[1] - v) * nv;
  return { kelvin, tint: Math.max(-MOST_TINT, Math.min(MOST_TINT, tint)) };
}

/** The light under which something that should be neutral has this light of the BT.709 primaries. */
export function describeNeutral(rgb: Triple): LightColor {
  const [x, y, z] = multiply(TO_XYZ, rgb);
  const sum = x + y + z;
  return sum <= 0 ? describeLight(D65) : describeLight([x / sum, y / sum]);
}

/** From light of the BT.709 primaries under one light to what it would be under D65, Y of white kept. */
export function buildAdaptation(light: LightColor): Matrix3 {
  const [x, y] = readChromaticity(light);
  const from = multiply(CAT16, [x / y, 1, (1 - x - y) / y]);
  const to = multiply(CAT16, [D65[0] / D65[1], 1, (1 - D65[0] - D65[1]) / D65[1]]);
  const scale: Matrix3 = [
    [to[0] / from[0], 0, 0],
    [0, to[1] / from[1], 0],
    [0, 0, to[2] / from[2]],
  ];
  const adapt = multiplyMatrices(FROM_CAT16, multiplyMatrices(scale, CAT16));
  return multiplyMatrices(FROM_XYZ, multiplyMatrices(adapt, TO_XYZ));
}
