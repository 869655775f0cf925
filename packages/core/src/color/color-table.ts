import type { ColorSettings } from './color-settings.ts';
import { unpackLook } from './look-table.ts';
import { mixLight } from './mix-light.ts';
import { readColorTable, type ColorTable } from './read-table.ts';
import type { Triple } from './spaces.ts';
import { transferFunctions } from './transfer.ts';
import { buildAdaptation } from './white.ts';
import { multiply } from './spaces.ts';

export const TABLE_EDGE = 33;
/** Light of mid grey, and its signal. */
const MID_GRAY = 0.18;
const { toLight, toSignal } = transferFunctions.srgb;
const MID_SIGNAL = toSignal(MID_GRAY);
/** How much steeper black gets at the most. */
const MOST_LIFT = 2.5;
/** Slope at mid grey for the strongest contrast: 2 to this power. */
const CONTRAST_STOPS = 0.8;
/** Hues of skin in Oklab, in degrees, and how much less they follow. */
const SKIN_HUES = [30, 75] as const;
const SKIN_SHARE = 0.35;
/** Luminance of the BT.709 primaries. */
const LUMA = [0.2126, 0.7152, 0.0722] as const;

/**
 * What settings make of one color: signal R, G, B in and out, 0 to 1. In linear light (IEC 61966-2-1): the
 * light of the lamp to daylight (CAT16), stops, a soft shoulder, dark parts and contrast along luminance, and
 * chroma in Oklab (Ottosson 2020); last of all somebody else's table.
 */
export function buildColorLook(settings: ColorSettings): (signal: Triple) => Triple {
  const adapt = settings.white ? buildAdaptation(settings.white) : null;
  const gain = 2 ** settings.exposure;
  const { mix } = settings;
  const peak = Math.max(1, gain * findPeak(adapt, mix));
  const slope = 2 ** (settings.contrast * CONTRAST_STOPS);
  const look = settings.look ? unpackLook(settings.look) : null;
  return (signal) => {
    let light: Triple = [toLight(signal[0]), toLight(signal[1]), toLight(signal[2])];
    if (mix) light = mixLight(mix, light);
    if (adapt) light = multiply(adapt, light);
    light = scale(light, gain);
    light = scale(light, measureShoulder(Math.max(...light), settings.highlights, peak));
    const luminance = measureLuminance(light);
    light = scale(light, bendTone(luminance, settings.shadows, slope) / Math.max(luminance, 1e-9));
    if (settings.richness !== 0) light = enrich(light, settings.richness);
    light = fitGamut(light);
    const own: Triple = [toSignal(light[0]), toSignal(light[1]), toSignal(light[2])];
    if (!look) return own;
    const out: [number, number, number] = [0, 0, 0];
    readColorTable(look, own[0], own[1], own[2], out);
    return out;
  };
}

/**
 * How much further apart levels from dark to middling come to lie, on the side where it is most: what was
 * hidden there takes bits once it is seen. At least 1.
 */
export function measureSpread(settings: ColorSettings): number {
  const look = buildColorLook(settings);
  const [low, high] = [0.04, 0.3];
  const [dark, middling] = [low, high].map((level) => look([level, level, level]));
  const slopes = middling?.map((level, side) => (level - (dark?.[side] ?? 0)) / (high - low)) ?? [];
  return Math.max(1, ...slopes);
}

/** Bakes settings into a table. */
export function buildColorTable(settings: ColorSettings, edge = TABLE_EDGE): ColorTable {
  const look = buildColorLook(settings);
  const values = new Float32Array(edge ** 3 * 3);
  let at = 0;
  for (let blue = 0; blue < edge; blue += 1)
    for (let green = 0; green < edge; green += 1)
      for (let red = 0; red < edge; red += 1) {
        const out = look([red / (edge - 1), green / (edge - 1), blue / (edge - 1)]);
        values.set(out, at);
        at += 3;
      }
  return { edge, values };
}

/** The most that adaptation makes of any side of white and the pure primaries. */
function findPeak(adapt: ReturnType<typeof buildAdaptation> | null, mix: readonly number[] | null): number {
  const white = mix ? mixLight(mix, [1, 1, 1]) : ([1, 1, 1] as const);
  return Math.max(...(adapt ? multiply(adapt, white) : white));
}

const scale = ([red, green, blue]: Triple, by: number): Triple => [red * by, green * by, blue * by];
const measureLuminance = ([red, green, blue]: Triple) =>
  Math.max(0, LUMA[0] * red + LUMA[1] * green + LUMA[2] * blue);

/**
 * By what a color is scaled so that its brightest side, up to `peak`, stays below 1: nothing below the knee,
 * from there on a curve of slope 1 that ends at 1.
 */
function measureShoulder(brightest: number, strength: number, peak: number): number {
  if (strength < 1e-6 || peak <= 1) return 1;
  const knee = 1 - 0.6 * strength;
  if (brightest <= knee) return 1;
  const over = (brightest - knee) / (1 - knee);
  const most = (peak - knee) / (1 - knee);
  const bent = knee + ((1 - knee) * over * (1 + over / most ** 2)) / (1 + over);
  return bent / brightest;
}

/** Luminance after lifting the dark and steepening about mid grey; both leave black, and contrast white. */
function bendTone(luminance: number, shadows: number, slope: number): number {
  if ((shadows === 0 && slope === 1) || luminance >= 1) return luminance;
  let signal = toSignal(luminance);
  signal = Math.min(1, signal + shadows * MOST_LIFT * signal * (1 - signal) ** 3);
  if (slope !== 1)
    signal =
      signal < MID_SIGNAL
        ? MID_SIGNAL * (signal / MID_SIGNAL) ** slope
        : 1 - (1 - MID_SIGNAL) * ((1 - signal) / (1 - MID_SIGNAL)) ** slope;
  return toLight(signal);
}

/** Brings a color into the primaries' reach toward grey of its own luminance. */
function fitGamut(light: Triple): Triple {
  const gray = Math.min(1, measureLuminance(light));
  let share = 1;
  for (const side of light) {
    if (side > 1) share = Math.min(share, (1 - gray) / (side - gray));
    if (side < 0) share = Math.min(share, gray / (gray - side));
  }
  return light.map((side) => Math.max(0, Math.min(1, gray + (side - gray) * share))) as unknown as Triple;
}

const TO_LMS = [
  [0.4122214708, 0.5363325363, 0.0514459929],
  [0.2119034982, 0.6806995451, 0.1073969566],
  [0.0883024619, 0.2817188376, 0.6299787005],
] as const;
const FROM_LMS = [
  [4.0767416621, -3.3077115913, 0.2309699292],
  [-1.2684380046, 2.6097574011, -0.3413193965],
  [-0.0041960863, -0.7034186147, 1.707614701],
] as const;

function enrich(light: Triple, richness: number): Triple {
  const [l, m, s] = multiply(TO_LMS, light).map(Math.cbrt) as unknown as Triple;
  const a = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
  const b = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
  const lightness = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
  const by = 1 + richness * (richness > 0 ? guardSkin(a, b) : 1);
  const [ra, rb] = [a * by, b * by];
  const cube = (value: number) => value ** 3;
  return multiply(FROM_LMS, [
    cube(lightness + 0.3963377774 * ra + 0.2158037573 * rb),
    cube(lightness - 0.1055613458 * ra - 0.0638541728 * rb),
    cube(lightness - 0.0894841775 * ra - 1.291485548 * rb),
  ]);
}

/** How much a hue follows: less for skin, gently from one to the other. */
function guardSkin(a: number, b: number): number {
  const hue = (Math.atan2(b, a) * 180) / Math.PI;
  const off = Math.max(0, SKIN_HUES[0] - hue, hue - SKIN_HUES[1]);
  const away = Math.min(1, off / 20);
  return SKIN_SHARE + (1 - SKIN_SHARE) * away * away * (3 - 2 * away);
}
