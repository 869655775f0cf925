import { applyProjective, invertProjective, mapSquareTo, type Quad } from '../geometry/projective.ts';
import type { RgbPicture } from '../picture/rgb-picture.ts';
import { createRandom } from './piece-scene.ts';

type Rgb = readonly [number, number, number];

/** Wavelengths that scenes are lit and seen at, in nm. */
const WAVES = Array.from({ length: 36 }, (_, step) => 390 + step * 10);

/**
 * Color matching functions of CIE 1931, by C. Wyman, P.-P. Sloan and P. Shirley, "Simple Analytic
 * Approximations to the CIE XYZ Color Matching Functions", JCGT 2 (2), 2013.
 */
const lobe = (wave: number, height: number, middle: number, low: number, high: number) =>
  height * Math.exp(-0.5 * ((wave - middle) * (wave < middle ? low : high)) ** 2);
const OBSERVER = WAVES.map(
  (w) =>
    [
      lobe(w, 0.362, 442, 0.0624, 0.0374) +
        lobe(w, 1.056, 599.8, 0.0264, 0.0323) +
        lobe(w, -0.065, 501.1, 0.049, 0.0382),
      lobe(w, 0.821, 568.8, 0.0213, 0.0247) + lobe(w, 0.286, 530.9, 0.0613, 0.0322),
      lobe(w, 1.217, 437, 0.0845, 0.0278) + lobe(w, 0.681, 459, 0.0385, 0.0725),
    ] as Rgb,
);

/** Planck's law; wavelengths in nm. */
export const radiate = (kelvin: number) =>
  WAVES.map((wave) => 1 / (wave ** 5 * (Math.exp(1.438_776_9e7 / (wave * kelvin)) - 1)));

/** A cool-white tube: lines of mercury over what its phosphors glow with. */
export const glowAsTube = () =>
  WAVES.map(
    (wave) =>
      lobe(wave, 1, 580, 1 / 38, 1 / 48) +
      lobe(wave, 0.55, 480, 1 / 35, 1 / 35) +
      lobe(wave, 1.1, 436, 1 / 6, 1 / 6) +
      lobe(wave, 1.3, 546, 1 / 6, 1 / 6),
  );

/** Three smooth bands of reflectance, of which every color of a scene is mixed. */
const BANDS = WAVES.map((wave) => {
  const step = (middle: number) => 1 / (1 + Math.exp(-(wave - middle) / 14));
  return [step(585), step(492) * (1 - step(585)), 1 - step(492)] as Rgb;
});

/** Linear light of the BT.709 primaries that a reflectance gives under a light, white paper at Y = 1. */
const TO_RGB = [
  [3.2404542, -1.5371385, -0.4985314],
  [-0.969266, 1.8760108, 0.041556],
  [0.0556434, -0.2040259, 1.0572252],
] as const;

function seeBands(light: readonly number[]): readonly Rgb[] {
  const white = WAVES.reduce((sum, _, step) => sum + (light[step] ?? 0) * (OBSERVER[step]?.[1] ?? 0), 0);
  return [0, 1, 2].map((band) => {
    const xyz = [0, 1, 2].map(
      (side) =>
        WAVES.reduce(
          (sum, _, step) =>
            sum + (light[step] ?? 0) * (OBSERVER[step]?.[side as 0] ?? 0) * (BANDS[step]?.[band as 0] ?? 0),
          0,
        ) / white,
    );
    return TO_RGB.map((row) =>
      row.reduce((sum, by, side) => sum + by * (xyz[side] ?? 0), 0),
    ) as unknown as Rgb;
  });
}

const mix = (bands: readonly Rgb[], amounts: Rgb): Rgb =>
  [0, 1, 2].map((side) =>
    amounts.reduce((sum, amount, band) => sum + amount * (bands[band]?.[side as 0] ?? 0), 0),
  ) as unknown as Rgb;

/** Light of D65 by its daylight components would need tables: a black body of its temperature is near. */
const DAYLIGHT = seeBands(radiate(6500));

/** How much of each band a thing reflects that has this light in daylight. */
function findAmounts(light: Rgb): Rgb {
  const [a, b, c] = DAYLIGHT as [Rgb, Rgb, Rgb];
  const determinant = (p: Rgb, q: Rgb, r: Rgb) =>
    p[0] * (q[1] * r[2] - q[2] * r[1]) -
    p[1] * (q[0] * r[2] - q[2] * r[0]) +
    p[2] * (q[0] * r[1] - q[1] * r[0]);
  const all = determinant(a, b, c);
  return [
    Math.max(0.005, determinant(light, b, c) / all),
    Math.max(0.005, determinant(a, light, c) / all),
    Math.max(0.005, determinant(a, b, light) / all),
  ];
}

export interface LampScene {
  readonly widthPx: number;
  readonly heightPx: number;
  /** In shares of the picture's edges. */
  readonly corners: Quad;
  /** Spectrum of the lamp. */
  readonly lamp: readonly number[];
  /** Where the lamp hangs over the piece: shares of its edges, and how high in edges of it. */
  readonly over: { readonly u: number; readonly v: number; readonly height: number };
  /** Light that comes from everywhere, as a share of the lamp's at its brightest. */
  readonly ambient: number;
  /** How much light is lost toward the corners of the picture. */
  readonly vignette: number;
  /** Light of the brightest side of white paper right under the lamp. */
  readonly exposure: number;
  readonly noise: number;
  /** Light of the piece in daylight at a place, 0 to 1 across it. */
  readonly piece: (u: number, v: number) => Rgb;
  /** Light of what lies around it in daylight. */
  readonly ground: Rgb;
  readonly seed: number;
}

const toSignal = (light: number) => (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055);

/** How bright the lamp and the light of the room are at a place of the table, 1 at the brightest. */
export function lightAt({ over, ambient }: LampScene, u: number, v: number): number {
  const squared = over.height ** 2 + (u - over.u) ** 2 + (v - over.v) ** 2;
  return (1 - ambient) * (over.height ** 2 / squared) ** 1.5 + ambient;
}

/** Draws a piece under a lamp, as a camera without any white balance of its own sees it. */
export function drawLampScene(scene: LampScene): RgbPicture {
  const { widthPx, heightPx, corners } = scene;
  const toPiece = invertProjective(mapSquareTo(corners));
  const bands = seeBands(scene.lamp);
  const brightest = Math.max(...mix(bands, findAmounts([0.88, 0.88, 0.88])));
  const random = createRandom(scene.seed);
  const gauss = () => (random() + random() + random() + random() - 2) * 1.73;
  const bytes = new Uint8Array(widthPx * heightPx * 3);
  const SUB = [-0.25, 0.25];
  for (let y = 0; y < heightPx; y += 1)
    for (let x = 0; x < widthPx; x += 1) {
      let light: Rgb = [0, 0, 0];
      for (const dy of SUB)
        for (const dx of SUB) {
          const place = { x: (x + 0.5 + dx) / widthPx, y: (y + 0.5 + dy) / heightPx };
          const { x: u, y: v } = applyProjective(toPiece, place);
          const isPiece = u >= 0 && v >= 0 && u <= 1 && v <= 1;
          const own = mix(bands, findAmounts(isPiece ? scene.piece(u, v) : scene.ground));
          const off = ((place.x - 0.5) ** 2 + (place.y - 0.5) ** 2) * 2;
          const by = (lightAt(scene, u, v) * (scene.exposure / brightest) * (1 - scene.vignette * off)) / 4;
          light = [light[0] + own[0] * by, light[1] + own[1] * by, light[2] + own[2] * by];
        }
      for (let side = 0; side < 3; side += 1) {
        const value = 255 * toSignal(Math.max(0, Math.min(1, light[side as 0]))) + scene.noise * gauss();
        bytes[(y * widthPx + x) * 3 + side] = Math.max(0, Math.min(255, Math.round(value)));
      }
    }
  return { widthPx, heightPx, bytes, bands: 3 };
}

/** A sheet with a blank margin of this width and some painted patches and washes inside. */
export function buildSheet(seed: number, margin: number): (u: number, v: number) => Rgb {
  const random = createRandom(seed * 17 + 3);
  const paper: Rgb = [0.88, 0.88, 0.88];
  const shapes = Array.from({ length: 14 }, () => ({
    u: random(),
    v: random(),
    size: 0.06 + 0.2 * random(),
    light: [0.05 + 0.6 * random(), 0.05 + 0.6 * random(), 0.05 + 0.6 * random()] as Rgb,
  }));
  return (u, v) => {
    const inset = Math.min(u, v, 1 - u, 1 - v);
    if (inset < margin) return paper;
    const shape = shapes.find((each) => Math.max(Math.abs(each.u - u), Math.abs(each.v - v)) < each.size);
    return shape?.light ?? paper;
  };
}

/** A scene by its number: lamps from 2 500 to 8 000 K, hung at any side of the sheet. */
export function buildLampScene(seed: number, changes: Partial<LampScene> = {}): LampScene {
  const random = createRandom(seed * 7919 + 11);
  const between = (low: number, high: number) => low + (high - low) * random();
  const slant = () => between(-0.04, 0.04);
  const lampKelvin = [2500, 3000, 3500, 4200, 5000, 6500, 8000][Math.floor(random() * 7)] ?? 3000;
  return {
    widthPx: 640,
    heightPx: 480,
    corners: [
      { x: 0.18 + slant(), y: 0.1 + slant() },
      { x: 0.82 + slant(), y: 0.1 + slant() },
      { x: 0.86 + slant(), y: 0.9 + slant() },
      { x: 0.14 + slant(), y: 0.9 + slant() },
    ],
    lamp: radiate(lampKelvin),
    over: { u: between(-0.3, 1.3), v: between(-0.4, 0.6), height: between(0.7, 1.6) },
    ambient: between(0, 0.3),
    vignette: between(0, 0.15),
    exposure: between(0.5, 0.92),
    noise: between(0, 2),
    piece: buildSheet(seed, between(0.04, 0.1)),
    ground: [0.12, 0.09, 0.06],
    seed,
    ...changes,
  };
}

/** Light that a thing of this daylight color gives under a lamp, white paper at luminance 1. */
export const seeReflected = (lamp: readonly number[], light: Rgb): Rgb =>
  mix(seeBands(lamp), findAmounts(light));
