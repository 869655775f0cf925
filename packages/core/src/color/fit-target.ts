import { solveLeastSquares } from '../geometry/least-squares.ts';
import { createPlainColor, type ColorSettings } from './color-settings.ts';
import { convertLightToLab, measureDeltaE } from './lab.ts';
import { listMixTerms, mixLight } from './mix-light.ts';
import { USUAL_PATCHES, type LabTriple } from './patches-24.ts';
import { buildRgbToXyz, invert, multiply, primariesTable, type Matrix3, type Triple } from './spaces.ts';
import { buildAdaptation, describeNeutral, KELVIN_BOUNDS, MOST_TINT } from './white.ts';

/** How colors are put right by a target: its greys alone, or every side mixed from three or six terms. */
export type TargetWay = 'white' | 'linear' | 'root';

export interface TargetFit {
  readonly settings: ColorSettings;
  readonly way: TargetWay;
  /** CIEDE2000 of each patch, as it was photographed and put right; null where it could not be read. */
  readonly before: readonly (number | null)[];
  readonly after: readonly (number | null)[];
  readonly meanBefore: number;
  readonly meanAfter: number;
  /** Mean of patches that were left out, each put right by all others. */
  readonly foretold: number;
}

const EPSILON = 216 / 24_389;
const KAPPA = 24_389 / 27;
/** D50 as ICC.1:2022 7.2.16 has it. */
const D50: Triple = [0.9642, 1, 0.8249];
/** Bradford's transform from D50 to D65 (as IEC 61966-2-1 profiles have it, inverted). */
const D50_TO_D65: Matrix3 = [
  [0.9555766, -0.0230393, 0.0631636],
  [-0.0282895, 1.0099416, 0.0210077],
  [0.0122982, -0.020483, 1.3299098],
];
const FROM_XYZ = invert(buildRgbToXyz(primariesTable.bt709));

/** Linear light of the BT.709 primaries that a patch has in daylight (CIE 15:2018, 8.2.1, inverted). */
export function convertPatchToLight([l, a, b]: LabTriple): Triple {
  const fy = (l + 16) / 116;
  const expand = (f: number) => (f ** 3 > EPSILON ? f ** 3 : (116 * f - 16) / KAPPA);
  const y = l > KAPPA * EPSILON ? fy ** 3 : l / KAPPA;
  const xyz: Triple = [expand(fy + a / 500) * D50[0], y, expand(fy - b / 200) * D50[2]];
  return multiply(FROM_XYZ, multiply(D50_TO_D65, xyz));
}

/** Greys of the last row that are neither too bright nor too dark to tell a lamp by. */
const GREYS = [18, 19, 20, 21, 22];
const LEAST_PATCHES = 14;
/** More terms have to foretell better by so much. */
const TERM_ROOM = 1.05;

/** A patch that all others leave so far off has something lying on it. */
const COVERED = { deltaE: 6, times: 3 } as const;
const MOST_COVERED = 6;

/**
 * Puts colors right by the patches of a target: linear light of each, null where it could not be read. Of the
 * ways that one is taken that foretells left-out patches best (G. Finlayson, M. Mackiewicz and A. Hurlbert,
 * "Color Correction Using Root-Polynomial Regression", 2015); patches that something covers are left out, one
 * after another, the farthest first. null where too few patches can be read.
 */
export function fitTarget(
  patches: readonly (Triple | null)[],
  reference: readonly LabTriple[] = USUAL_PATCHES,
): TargetFit | null {
  const wanted = reference.map(convertPatchToLight);
  let own = patches;
  let fit = fitPatches(own, wanted);
  for (let left = 0; fit && left < MOST_COVERED; left += 1) {
    const covered = findCovered(fit.after);
    if (covered === null) break;
    own = own.map((patch, index) => (index === covered ? null : patch));
    fit = fitPatches(own, wanted);
  }
  return fit;
}

/** The patch that is farthest off, where it is far more so than the others. */
function findCovered(after: readonly (number | null)[]): number | null {
  const known = after.filter((each) => each !== null).sort((left, right) => left - right);
  const middle = known[known.length >> 1] ?? 0;
  const most = known.at(-1) ?? 0;
  return most > Math.max(COVERED.deltaE, COVERED.times * middle) ? after.indexOf(most) : null;
}

function fitPatches(patches: readonly (Triple | null)[], wanted: readonly Triple[]): TargetFit | null {
  const known = patches.flatMap((patch, index) => (patch && wanted[index] ? [index] : []));
  if (known.length < LEAST_PATCHES) return null;
  let best: TargetFit | null = null;
  for (const way of ['white', 'linear', 'root'] as const) {
    const settings = fitWay(way, patches, wanted, known);
    if (!settings) continue;
    const left = known.map((out) => {
      const others = known.filter((index) => index !== out);
      const own = fitWay(way, patches, wanted, others);
      return own ? measureOff(apply(own, patches[out] as Triple), wanted[out] as Triple) : Infinity;
    });
    const foretold = mean(left);
    if (best && foretold * TERM_ROOM >= best.foretold) continue;
    const off = (change: (light: Triple) => Triple) =>
      patches.map((patch, index) =>
        patch && wanted[index] ? measureOff(change(patch), wanted[index]) : null,
      );
    const [before, after] = [off((light) => light), off((light) => apply(settings, light))];
    const meanOf = (values: readonly (number | null)[]) => mean(values.filter((each) => each !== null));
    best = {
      settings,
      way,
      before,
      after,
      meanBefore: meanOf(before),
      meanAfter: meanOf(after),
      foretold,
    };
  }
  return best;
}

const mean = (values: readonly number[]) =>
  values.reduce((sum, each) => sum + each, 0) / Math.max(1, values.length);

function measureOff(left: Triple, right: Triple): number {
  const lab = (light: Triple) => {
    const [red, green, blue] = light.map((side) => Math.max(0, side)) as unknown as Triple;
    return convertLightToLab(red, green, blue);
  };
  return measureDeltaE(lab(left), lab(right));
}

/** What settings of a fit do to light, before it is held inside of what a screen shows. */
function apply({ white, mix, exposure }: ColorSettings, light: Triple): Triple {
  const mixed = mix ? mixLight(mix, light) : light;
  const shown = white ? multiply(buildAdaptation(white), mixed) : mixed;
  return shown.map((side) => side * 2 ** exposure) as unknown as Triple;
}

type Known = readonly number[];

function fitWay(
  way: TargetWay,
  patches: readonly (Triple | null)[],
  wanted: readonly Triple[],
  known: Known,
): ColorSettings | null {
  if (way === 'white') return fitWhite(patches, wanted, known);
  const mix = fitMix(way === 'linear' ? 3 : 6, patches, wanted, known);
  return mix && { ...createPlainColor(), mix };
}

function fitWhite(
  patches: readonly (Triple | null)[],
  wanted: readonly Triple[],
  known: Known,
): ColorSettings | null {
  const greys = GREYS.filter((index) => known.includes(index));
  if (greys.length < 2) return null;
  const sums = [0, 1, 2].map((side) =>
    greys.reduce((sum, index) => sum + (patches[index]?.[side as 0] ?? 0), 0),
  ) as unknown as Triple;
  const { kelvin, tint } = describeNeutral(sums);
  const clamp = (value: number, low: number, high: number) => Math.max(low, Math.min(high, value));
  const white = {
    kelvin: clamp(kelvin, KELVIN_BOUNDS[0], KELVIN_BOUNDS[1]),
    tint: clamp(tint, -MOST_TINT, MOST_TINT),
  };
  const adapt = buildAdaptation(white);
  const stops = greys.map((index) => {
    const own = multiply(adapt, patches[index] as Triple)[1];
    return Math.log2(Math.max(1e-4, wanted[index]?.[1] ?? 0) / Math.max(1e-4, own));
  });
  return { ...createPlainColor(), white, exposure: clamp(mean(stops), -4, 4) };
}

/** Errors of dark patches are seen as well as those of bright ones: both count alike. */
const weigh = ([red, green, blue]: Triple) =>
  (0.03 + Math.max(0, 0.2126 * red + 0.7152 * green + 0.0722 * blue)) ** (-2 / 3);
const MOST_FACTOR = 40;

function fitMix(
  terms: 3 | 6,
  patches: readonly (Triple | null)[],
  wanted: readonly Triple[],
  known: Known,
): number[] | null {
  const sides: number[] = [];
  for (const side of [0, 1, 2] as const) {
    const found = solveLeastSquares(
      known.map((index) => ({
        terms: listMixTerms(patches[index] as Triple, terms),
        wanted: wanted[index]?.[side] ?? 0,
        weight: weigh(wanted[index] as Triple) ** 2,
      })),
      terms,
    );
    if (!found?.every((factor) => Number.isFinite(factor) && Math.abs(factor) <= MOST_FACTOR)) return null;
    sides.push(...found);
  }
  return sides.map((factor) => Number(factor.toPrecision(6)));
}
