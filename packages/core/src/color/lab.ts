import { buildRgbToXyz, multiply, primariesTable, type Triple } from './spaces.ts';
import { transferFunctions } from './transfer.ts';

/** CIE L*, a*, b*. */
export interface Lab {
  readonly l: number;
  readonly a: number;
  readonly b: number;
}

const TO_XYZ = buildRgbToXyz(primariesTable.bt709);
const WHITE = multiply(TO_XYZ, [1, 1, 1]);
const EPSILON = 216 / 24_389;
const KAPPA = 24_389 / 27;

/** CIE X, Y, Z relative to a white to CIE L*a*b* (CIE 15:2018, 8.2.1). */
export function convertXyzToLab(xyz: Triple, white: Triple = WHITE): Lab {
  const [x, y, z] = [xyz[0] / white[0], xyz[1] / white[1], xyz[2] / white[2]].map(compress);
  return buildLab(x ?? 0, y ?? 0, z ?? 0);
}

const compress = (share: number) => (share > EPSILON ? Math.cbrt(share) : (KAPPA * share + 16) / 116);
const buildLab = (x: number, y: number, z: number): Lab => ({
  l: 116 * y - 16,
  a: 500 * (x - y),
  b: 200 * (y - z),
});

const LIGHT_OF_LEVEL = Float64Array.from({ length: 256 }, (_, level) =>
  transferFunctions.srgb.toLight(level / 255),
);

/** Light, 0 to 1, that a standard display gives for eight bits (IEC 61966-2-1). */
export function readLight(level: number): number {
  return LIGHT_OF_LEVEL[level] ?? 0;
}

/** Light of the BT.709 primaries, white at 1, to CIE L*a*b*. */
export function convertLightToLab(red: number, green: number, blue: number): Lab {
  const [x, y, z] = TO_XYZ;
  return buildLab(
    compress((x[0] * red + x[1] * green + x[2] * blue) / WHITE[0]),
    compress((y[0] * red + y[1] * green + y[2] * blue) / WHITE[1]),
    compress((z[0] * red + z[1] * green + z[2] * blue) / WHITE[2]),
  );
}

/** Eight-bit R, G, B as a standard display shows it to CIE L*a*b*. */
export function convertRgb8ToLab(red: number, green: number, blue: number): Lab {
  return convertLightToLab(readLight(red), readLight(green), readLight(blue));
}

const DEGREE = Math.PI / 180;
const TWENTY_FIVE_7 = 25 ** 7;

/**
 * Color difference CIEDE2000 (ISO/CIE 11664-6:2014; terms as in Sharma, Wu and Dalal 2005), all weights 1.
 */
export function measureDeltaE(left: Lab, right: Lab): number {
  const meanChroma = (Math.hypot(left.a, left.b) + Math.hypot(right.a, right.b)) / 2;
  const boost = 0.5 * (1 - Math.sqrt(meanChroma ** 7 / (meanChroma ** 7 + TWENTY_FIVE_7)));
  const [a1, a2] = [left.a * (1 + boost), right.a * (1 + boost)];
  const [c1, c2] = [Math.hypot(a1, left.b), Math.hypot(a2, right.b)];
  const [h1, h2] = [readHue(a1, left.b), readHue(a2, right.b)];
  const lightness = right.l - left.l;
  const chroma = c2 - c1;
  const isGray = c1 * c2 === 0;
  let turn = isGray ? 0 : h2 - h1;
  if (turn > 180) turn -= 360;
  else if (turn < -180) turn += 360;
  const hue = 2 * Math.sqrt(c1 * c2) * Math.sin((turn / 2) * DEGREE);
  const meanL = (left.l + right.l) / 2;
  const meanC = (c1 + c2) / 2;
  const meanH = isGray ? h1 + h2 : readMeanHue(h1, h2);
  const t =
    1 -
    0.17 * Math.cos((meanH - 30) * DEGREE) +
    0.24 * Math.cos(2 * meanH * DEGREE) +
    0.32 * Math.cos((3 * meanH + 6) * DEGREE) -
    0.2 * Math.cos((4 * meanH - 63) * DEGREE);
  const spread = 30 * Math.exp(-(((meanH - 275) / 25) ** 2));
  const rotation = -2 * Math.sqrt(meanC ** 7 / (meanC ** 7 + TWENTY_FIVE_7)) * Math.sin(2 * spread * DEGREE);
  const weightL = 1 + (0.015 * (meanL - 50) ** 2) / Math.sqrt(20 + (meanL - 50) ** 2);
  const weightC = 1 + 0.045 * meanC;
  const weightH = 1 + 0.015 * meanC * t;
  const [dl, dc, dh] = [lightness / weightL, chroma / weightC, hue / weightH];
  return Math.sqrt(Math.max(0, dl ** 2 + dc ** 2 + dh ** 2 + rotation * dc * dh));
}

function readHue(a: number, b: number): number {
  if (a === 0 && b === 0) return 0;
  const degrees = Math.atan2(b, a) / DEGREE;
  return degrees < 0 ? degrees + 360 : degrees;
}

function readMeanHue(h1: number, h2: number): number {
  if (Math.abs(h1 - h2) <= 180) return (h1 + h2) / 2;
  return h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2;
}
