import { createPlainColor, type ColorAdvice, type ColorSettings } from './color-settings.ts';
import { buildColorLook } from './color-table.ts';
import { estimateLight, measurePutRight, type LightEstimate, type SmallPictures } from './estimate-light.ts';
import { readLight } from './lab.ts';
import { transferFunctions } from './transfer.ts';
import { describeNeutral, type LightColor } from './white.ts';

const DAYLIGHT_MIRED = 1e6 / 6500;
/** Casts below this are the scene's own, or nobody minds them. */
const LEAST_CAST_MIRED = 45;
/** From here on a cast is put right in full, where the estimate is sure. */
const FULL_CAST_MIRED = 75;
const LEAST_CONFIDENCE = 0.3;
/** Off the line of lamps by more, and it is the scene, not a lamp. */
const MOST_LAMP_TINT = 0.02;
/** Usual light of a well-lit scene: its median, and what a hundredth of it exceeds. */
const USUAL = { median: 0.16, high: 0.78 } as const;
/**
 * Hardly any scene has nothing brighter than this: below `full` it is dim, from `none` on it is not. Under a
 * lamp that had to be put right there is more often too little light.
 */
const DIM_HIGH = { lamp: { full: 0.45, none: 0.62 }, daylight: { full: 0.3, none: 0.42 } } as const;
/**
 * A dark background: so much darker than what is bright; a performer before it is seldom as bright as
 * a wall.
 */
const STAGE = { ratio: 6, less: 0.9 } as const;
const LEAST_STOPS = 0.5;
const MOST_STOPS = 2.5;
/** Backlight: so much of the picture is darker than this while its bright end is bright. */
const BACKLIT = { dark: 0.025, share: 0.45, high: 0.75 } as const;

/**
 * What would put the colors right: the lamp's color, too little light, a subject before a bright window. Only
 * as strong as the evidence, and null where nothing is wrong.
 */
export function proposeColor(pictures: SmallPictures): ColorAdvice | null {
  const estimate = estimateLight(pictures);
  const white = estimate ? chooseWhite(estimate) : null;
  const balanced = { ...createPlainColor(), white };
  const light = readLuminance(pictures, balanced);
  if (light.length < 100) return null;
  const at = (share: number) => light[Math.min(light.length - 1, Math.floor(light.length * share))] ?? 0;
  const { exposure, shadows } = chooseLight(at, light, white);
  const settings = { ...balanced, exposure, shadows, highlights: exposure > 0 ? 0.5 : 0 };
  const reasons = [
    ...(white && estimate
      ? [
          describeWhite(measurePutRight(pictures, estimate.light, white)),
          `${WAYS[estimate.by]}, ${Math.round(estimate.confidence * 100)} % sure`,
        ]
      : []),
    ...(exposure !== 0 ? [`Dim: half of the picture is below ${(at(0.5) * 100).toFixed(1)} % light`] : []),
    ...(shadows !== 0 ? [`Backlight: ${Math.round(shareBelow(light) * 100)} % lies in the dark`] : []),
  ];
  return reasons.length > 0 ? { settings, reasons } : null;
}

/** What the lamp was told by, in words. */
const WAYS = {
  bright: 'Told by what is brightest',
  edges: 'Told by the edges',
  average: 'Told by the average of everything',
  greys: 'Told by what turns grey',
} as const;

/** What putting a lamp right does, in words: "What should be grey: ΔE 11.2 → 1.3". */
function describeWhite({ before, after }: { readonly before: number; readonly after: number }): string {
  return `What should be grey: ΔE ${before.toFixed(1)} → ${after.toFixed(1)}`;
}

export function writeKelvin(kelvin: number): string {
  const rounded = Math.round(kelvin / 50) * 50;
  return `${String(rounded).replace(/\B(?=(\d{3})+$)/g, ' ')} K`;
}

function chooseWhite(estimate: LightEstimate): ColorSettings['white'] {
  const { light, confidence } = estimate;
  const cast = 1e6 / light.kelvin - DAYLIGHT_MIRED;
  if (Math.abs(cast) < LEAST_CAST_MIRED || confidence < LEAST_CONFIDENCE) return null;
  if (Math.abs(light.tint) > MOST_LAMP_TINT * 1.6) return null;
  const strength =
    Math.min(1, (Math.abs(cast) - LEAST_CAST_MIRED / 2) / (FULL_CAST_MIRED - LEAST_CAST_MIRED / 2)) *
    Math.min(1, 0.75 + confidence * 0.5);
  const mired = DAYLIGHT_MIRED + cast * strength;
  return {
    kelvin: Math.round(1e6 / mired),
    tint: Math.round(Math.max(-MOST_LAMP_TINT, Math.min(MOST_LAMP_TINT, light.tint)) * strength * 1e4) / 1e4,
  };
}

function chooseLight(
  at: (share: number) => number,
  light: Float32Array,
  white: ColorSettings['white'],
): { exposure: number; shadows: number } {
  const [median, high] = [Math.max(at(0.5), 1e-4), Math.max(at(0.99), 1e-4)];
  const byHigh = Math.log2(USUAL.high / high);
  const byMedian = Math.log2(USUAL.median / median);
  // A black stage is no fault: where most is far darker than the performer, only what that one lacks counts.
  const isStage = high / median > STAGE.ratio;
  const dim = white ? DIM_HIGH.lamp : DIM_HIGH.daylight;
  const sure = byMedian > LEAST_STOPS ? 1 : Math.min(1, (dim.none - high) / (dim.none - dim.full));
  const stops = isStage ? byHigh - STAGE.less : byHigh * Math.max(0, sure);
  const exposure = stops < LEAST_STOPS ? 0 : Math.min(MOST_STOPS, Math.round(stops * 20) / 20);
  const isBacklit = exposure === 0 && high >= BACKLIT.high && shareBelow(light) >= BACKLIT.share;
  return { exposure, shadows: isBacklit ? 0.35 : 0 };
}

const shareBelow = (light: Float32Array) => {
  const count = light.findIndex((each) => each > BACKLIT.dark);
  return (count < 0 ? light.length : count) / light.length;
};

/** Luminance of some points under settings, ascending; black bars at the edges do not count. */
function readLuminance({ rgb }: SmallPictures, settings: ColorSettings): Float32Array {
  const count = Math.floor(rgb.length / 3);
  const step = Math.max(1, Math.floor(count / 20_000));
  const look = buildColorLook(settings);
  const found: number[] = [];
  for (let point = 0; point < count; point += step) {
    const at = point * 3;
    const [r, g, b] = [rgb[at] ?? 0, rgb[at + 1] ?? 0, rgb[at + 2] ?? 0];
    if (r + g + b < 6) continue;
    const shown = look([r / 255, g / 255, b / 255]).map((side) => readLight(Math.round(side * 255)));
    found.push(0.2126 * (shown[0] ?? 0) + 0.7152 * (shown[1] ?? 0) + 0.0722 * (shown[2] ?? 0));
  }
  return Float32Array.from(found).sort();
}

/** The light under which a picked place would be neutral: eight-bit R, G, B; null where it is too dark. */
export function pickNeutral(red: number, green: number, blue: number): LightColor | null {
  if (Math.max(red, green, blue) < 16) return null;
  const light = describeNeutral([readLight(red), readLight(green), readLight(blue)]);
  return { kelvin: Math.round(light.kelvin), tint: Math.round(light.tint * 1e4) / 1e4 };
}

/**
 * Settings that bring one take near another of the same scene: the same lamp and light. null where either
 * tells too little.
 */
export function matchColor(own: SmallPictures, wanted: SmallPictures): ColorSettings | null {
  const [from, to] = [averageLight(own), averageLight(wanted)];
  if (!from || !to) return null;
  const ratio = from.rgb.map((side, index) => side / Math.max(1e-6, to.rgb[index] ?? 1));
  const white = describeNeutral(ratio as unknown as [number, number, number]);
  const balanced = {
    ...createPlainColor(),
    white: { kelvin: Math.round(white.kelvin), tint: Math.round(white.tint * 1e4) / 1e4 },
  };
  const light = readLuminance(own, balanced);
  const median = Math.max(1e-4, light[light.length >> 1] ?? 1e-4);
  const exposure = Math.max(-4, Math.min(4, Math.log2(to.median / median)));
  return { ...balanced, exposure: Math.round(exposure * 100) / 100 };
}

/** Shares of brightness between which paper, or what is as bright, is taken to lie. */
const PAPER_SHARES = [0.9, 0.97] as const;
const MATCH_STEPS = 8;

/**
 * Settings that bring one photograph near another of its series, whatever is drawn on either: their papers,
 * or what is brightest, get one color and brightness, as near as a lamp's settings go: a white paper never
 * gets as yellow as a candle's. null where either is too small or too dark to tell.
 */
export function matchPaper(own: SmallPictures, wanted: SmallPictures): ColorSettings | null {
  const [from, to] = [readPaper(own), readPaper(wanted)];
  if (!from || !to) return null;
  const signals = from.map(transferFunctions.srgb.toSignal) as [number, number, number];
  let ratio = divide(from, to);
  let settings = createPlainColor();
  // Adapted light and light held back on its way to white are no plain factors: both are come near in steps.
  for (let step = 0; step < MATCH_STEPS; step += 1) {
    const { kelvin, tint } = describeNeutral(ratio);
    settings = { ...settings, white: { kelvin: Math.round(kelvin), tint: Math.round(tint * 1e4) / 1e4 } };
    const [r = 0, g = 0, b = 0] = buildColorLook(settings)(signals).map(transferFunctions.srgb.toLight);
    const shown: Light = [r, g, b];
    const stops =
      settings.exposure + Math.log2(measureLuminance(to) / Math.max(1e-4, measureLuminance(shown)));
    settings = { ...settings, exposure: Math.max(-4, Math.min(4, Math.round(stops * 100) / 100)) };
    const left = divide(shown, to);
    const whole = measureLuminance(left);
    ratio = [(ratio[0] * left[0]) / whole, (ratio[1] * left[1]) / whole, (ratio[2] * left[2]) / whole];
  }
  return settings;
}

const divide = ([r, g, b]: Light, by: Light): Light => [
  r / Math.max(1e-6, by[0]),
  g / Math.max(1e-6, by[1]),
  b / Math.max(1e-6, by[2]),
];
const measureLuminance = ([r = 0, g = 0, b = 0]: readonly number[]) => 0.2126 * r + 0.7152 * g + 0.0722 * b;

type Light = readonly [number, number, number];

/** Mean linear light of what is nearly brightest, R, G and B. */
function readPaper({ rgb }: SmallPictures): Light | null {
  const points: { readonly light: Light; readonly y: number }[] = [];
  const step = 3 * Math.max(1, Math.floor(rgb.length / 3 / 40_000));
  for (let at = 0; at + 2 < rgb.length; at += step) {
    const light: Light = [readLight(rgb[at] ?? 0), readLight(rgb[at + 1] ?? 0), readLight(rgb[at + 2] ?? 0)];
    points.push({ light, y: measureLuminance(light) });
  }
  if (points.length < 100) return null;
  points.sort((one, other) => one.y - other.y);
  const paper = points.slice(...PAPER_SHARES.map((share) => Math.floor(share * points.length)));
  const mean = (side: 0 | 1 | 2) => paper.reduce((sum, { light }) => sum + light[side], 0) / paper.length;
  const found: Light = [mean(0), mean(1), mean(2)];
  return measureLuminance(found) < 0.01 ? null : found;
}

function averageLight(pictures: SmallPictures): { rgb: number[]; median: number } | null {
  const sums = [0, 0, 0];
  const { rgb } = pictures;
  let count = 0;
  for (let at = 0; at + 2 < rgb.length; at += 3) {
    const sides = [rgb[at] ?? 0, rgb[at + 1] ?? 0, rgb[at + 2] ?? 0];
    if (Math.max(...sides) > 250 || Math.max(...sides) < 8) continue;
    sides.forEach((level, side) => (sums[side] = (sums[side] ?? 0) + readLight(level)));
    count += 1;
  }
  const light = readLuminance(pictures, createPlainColor());
  if (count < 100 || light.length < 100) return null;
  return { rgb: sums.map((sum) => sum / count), median: Math.max(1e-4, light[light.length >> 1] ?? 0) };
}
