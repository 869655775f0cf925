import { convertLightToLab, measureDeltaE, readLight } from './lab.ts';
import { multiply, type Triple } from './spaces.ts';
import { buildAdaptation, describeNeutral, type LightColor } from './white.ts';

/** Small pictures, one after another: eight-bit R, G, B as a standard display shows them. */
export interface SmallPictures {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly rgb: Uint8Array;
}

/** Ways to tell a lamp's color from what it lights. */
export type LightEstimator = 'bright' | 'edges' | 'average' | 'greys';

export interface LightEstimate {
  readonly light: LightColor;
  /** The way that was gone by. */
  readonly by: LightEstimator;
  /** 0 to 1: how far the ways agree. */
  readonly confidence: number;
}

/** One side at or above this is cut off, and tells nothing of a hue; all below the other is noise. */
const CLIPPED_LEVEL = 251;
const DARK_LEVEL = 12;
/** Pictures and points that are looked at, at the most. */
const MOST_PICTURES = 16;
const MOST_POINTS = 24_000;
/** Exponent of the mean that the edges go by (van de Weijer, Gevers and Gijsenij 2007). */
const EDGE_POWER = 5;
/** The brightest so many count as bright. */
const BRIGHT_SHARE = 0.03;
/** Chroma (a*, b*) below which something counts as grey once a lamp is put right. */
const GREY_CHROMA = 5;
const GREY_STEP_MIRED = 15;
/** Lamps of rooms and halls in reciprocal temperature. */
const LAMPS_MIRED = [95, 430] as const;
/** Ways that lie no further apart than this agree. */
const AGREEING_MIRED = 60;
const toMired = (light: LightColor) => 1e6 / light.kelvin;

interface Samples {
  /** Linear light, three values a point. */
  readonly light: Float32Array;
  readonly count: number;
  /** Power means of the differences of neighbours, one value a side. */
  readonly edges: Triple;
}

/**
 * The color of the light that pictures were taken under, from several estimators that each err in their own
 * way: what is brightest (it reflects the lamp), the edges, the average of everything, and the lamp under
 * which most of the picture turns grey. They are brought to mired and the one in the middle is taken. null
 * where there is too little to tell.
 */
export function estimateLight(pictures: SmallPictures): LightEstimate | null {
  const samples = collect(pictures);
  if (samples.count < 200) return null;
  const bright = describeNeutral(measureBright(samples));
  const ways: { by: LightEstimator; light: LightColor }[] = [
    { by: 'bright', light: bright },
    { by: 'edges', light: describeNeutral(samples.edges) },
    { by: 'average', light: describeNeutral(measureAverage(samples)) },
    { by: 'greys', light: findGreyest(samples, bright) },
  ];
  const sorted = [...ways].sort((left, right) => toMired(left.light) - toMired(right.light));
  // The two in the middle: the cooler of them, which does less where they differ.
  const daylight = 1e6 / 6500;
  const [low, high] = [sorted[1], sorted[2]];
  if (!low || !high) return null;
  const chosen =
    Math.abs(toMired(low.light) - daylight) < Math.abs(toMired(high.light) - daylight) ? low : high;
  const spread = ways
    .map((way) => Math.abs(toMired(way.light) - toMired(chosen.light)))
    .sort((left, right) => left - right)[2];
  const confidence = Math.max(0, Math.min(1, 1.5 - (spread ?? Infinity) / AGREEING_MIRED));
  return { ...chosen, confidence };
}

/** Light of points that tell something, and of edges, of some pictures evenly along all. */
function collect({ widthPx: w, heightPx: h, rgb }: SmallPictures): Samples {
  const size = w * h;
  const pictureCount = Math.floor(rgb.length / 3 / size);
  const pictureStep = Math.max(1, Math.ceil(pictureCount / MOST_PICTURES));
  const pointStep = Math.max(1, Math.ceil((Math.ceil(pictureCount / pictureStep) * size) / MOST_POINTS));
  const light = new Float32Array(MOST_POINTS * 3 + 3);
  const edges = [0, 0, 0];
  let count = 0;
  const isTelling = (at: number) => {
    const [r, g, b] = [rgb[at] ?? 0, rgb[at + 1] ?? 0, rgb[at + 2] ?? 0];
    return Math.max(r, g, b) < CLIPPED_LEVEL && Math.max(r, g, b) > DARK_LEVEL;
  };
  for (let picture = 0; picture < pictureCount; picture += pictureStep)
    for (let point = picture % pointStep; point < size - w - 1; point += pointStep) {
      const at = (picture * size + point) * 3;
      if (!isTelling(at) || count >= MOST_POINTS) continue;
      for (let side = 0; side < 3; side += 1) light[count * 3 + side] = readLight(rgb[at + side] ?? 0);
      count += 1;
      const [next, below] = [at + 3, at + w * 3];
      if ((point + 1) % w === 0 || !isTelling(next) || !isTelling(below)) continue;
      for (let side = 0; side < 3; side += 1) {
        const own = readLight(rgb[at + side] ?? 0);
        const slope = Math.hypot(
          readLight(rgb[next + side] ?? 0) - own,
          readLight(rgb[below + side] ?? 0) - own,
        );
        edges[side] = (edges[side] ?? 0) + slope ** EDGE_POWER;
      }
    }
  return {
    light,
    count,
    edges: edges.map((sum) => sum ** (1 / EDGE_POWER)) as unknown as Triple,
  };
}

const readPoint = ({ light }: Samples, point: number): Triple => [
  light[point * 3] ?? 0,
  light[point * 3 + 1] ?? 0,
  light[point * 3 + 2] ?? 0,
];

/** Mean of the points whose weakest side is strongest: bright and not of one color. */
function measureBright(samples: Samples): Triple {
  const order = Array.from({ length: samples.count }, (_, point) => point);
  const weigh = order.map((point) => {
    const [red, green, blue] = readPoint(samples, point);
    return red + green + blue;
  });
  order.sort((left, right) => (weigh[right] ?? 0) - (weigh[left] ?? 0));
  const chosen = order.slice(0, Math.max(20, Math.round(samples.count * BRIGHT_SHARE)));
  return meanOf(samples, chosen);
}

function measureAverage(samples: Samples): Triple {
  // Each point counts for its hue, not for how brightly it is lit.
  const sums = [0, 0, 0];
  for (let point = 0; point < samples.count; point += 1) {
    const own = readPoint(samples, point);
    const total = Math.sqrt(own[0] + own[1] + own[2]) + 1e-3;
    for (let side = 0; side < 3; side += 1) sums[side] = (sums[side] ?? 0) + (own[side] ?? 0) / total;
  }
  return sums as unknown as Triple;
}

function meanOf(samples: Samples, points: readonly number[]): Triple {
  const sums = [0, 0, 0];
  for (const point of points)
    readPoint(samples, point).forEach((value, side) => (sums[side] = (sums[side] ?? 0) + value));
  return sums as unknown as Triple;
}

/** The lamp under which most of the picture is grey, and then what those greys themselves say. */
function findGreyest(samples: Samples, fallback: LightColor): LightColor {
  let best = { score: 0, mired: 0 };
  for (let mired = LAMPS_MIRED[0]; mired <= LAMPS_MIRED[1]; mired += GREY_STEP_MIRED) {
    const score = countGreys(samples, { kelvin: 1e6 / mired, tint: 0 }).weight;
    if (score > best.score) best = { score, mired };
  }
  if (best.score < samples.count * 0.004) return fallback;
  const { points } = countGreys(samples, { kelvin: 1e6 / best.mired, tint: 0 }, GREY_CHROMA * 1.5);
  return describeNeutral(meanOf(samples, points));
}

/** Points that are grey under a lamp put right; bright ones count for more. */
function countGreys(
  samples: Samples,
  light: LightColor,
  mostChroma = GREY_CHROMA,
): { weight: number; points: number[] } {
  const adapt = buildAdaptation(light);
  const points: number[] = [];
  let weight = 0;
  const step = Math.max(1, Math.floor(samples.count / 6000));
  for (let point = 0; point < samples.count; point += step) {
    const own = readPoint(samples, point);
    const [red, green, blue] = multiply(adapt, own);
    const lightness = Math.max(1e-4, 0.2126 * red + 0.7152 * green + 0.0722 * blue);
    // As if all were equally bright: a dim picture is as grey as a bright one.
    const by = 0.4 / lightness;
    const { a, b } = convertLightToLab(red * by, green * by, blue * by);
    if (Math.hypot(a, b) > mostChroma) continue;
    weight += step * (0.3 + Math.sqrt(lightness));
    points.push(point);
  }
  return { weight, points };
}

/**
 * How far what is grey under the found light is from grey (mean CIEDE2000): as recorded, and once another one
 * is put right.
 */
export function measurePutRight(
  pictures: SmallPictures,
  found: LightColor,
  used: LightColor,
): { readonly before: number; readonly after: number } {
  const samples = collect(pictures);
  const { points } = countGreys(samples, found, GREY_CHROMA * 1.5);
  const adapt = buildAdaptation(used);
  const off = ([red, green, blue]: Triple) => {
    const gray = Math.max(0, 0.2126 * red + 0.7152 * green + 0.0722 * blue);
    return measureDeltaE(
      convertLightToLab(Math.max(0, red), Math.max(0, green), Math.max(0, blue)),
      convertLightToLab(gray, gray, gray),
    );
  };
  let [before, after] = [0, 0];
  for (const point of points) {
    const own = readPoint(samples, point);
    before += off(own);
    after += off(multiply(adapt, own));
  }
  const count = Math.max(1, points.length);
  return { before: before / count, after: after / count };
}
