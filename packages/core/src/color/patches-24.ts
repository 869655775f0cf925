import { z } from 'zod';

/** CIE L*, a*, b* under D50, 2 degrees. */
export type LabTriple = readonly [number, number, number];

/** Patches of a target in four rows of six; from the upper left. */
export const PATCH_COLUMNS = 6;
export const PATCH_ROWS = 4;
const PATCH_COUNT = PATCH_COLUMNS * PATCH_ROWS;

/** Published averages of the usual 24-patch target. */
export const USUAL_PATCHES: readonly LabTriple[] = [
  [37.986, 13.555, 14.059],
  [65.711, 18.13, 17.81],
  [49.927, -4.88, -21.925],
  [43.139, -13.095, 21.905],
  [55.112, 8.844, -25.399],
  [70.719, -33.397, -0.199],
  [62.661, 36.067, 57.096],
  [40.02, 10.41, -45.964],
  [51.124, 48.239, 16.248],
  [30.325, 22.976, -21.587],
  [72.532, -23.709, 57.255],
  [71.941, 19.363, 67.857],
  [28.778, 14.179, -50.297],
  [55.261, -38.342, 31.37],
  [42.101, 53.378, 28.19],
  [81.733, 4.039, 79.819],
  [51.935, 49.986, -14.574],
  [51.038, -28.631, -28.638],
  [96.539, -0.425, 1.186],
  [81.257, -0.638, -0.335],
  [66.766, -0.734, -0.504],
  [50.867, -0.153, -0.27],
  [35.656, -0.421, -1.231],
  [20.461, -0.079, -0.973],
];

const Numbers = z.array(
  z.tuple([z.number().min(0).max(100), z.number().min(-128).max(128), z.number().min(-128).max(128)]),
);

/**
 * Values of somebody's own target: JSON (`{"patches": [{"lab": [L, a, b]}, …]}`) or lines of L*, a*, b*.
 * Throws a `RangeError` in words where they are not 24.
 */
export function readPatchValues(text: string): LabTriple[] {
  const parsed = Numbers.safeParse(text.trim().startsWith('{') ? readJson(text) : readLines(text));
  if (!parsed.success) throw new RangeError('The file has to give L*, a* and b* of each patch.');
  if (parsed.data.length !== PATCH_COUNT)
    throw new RangeError(`The file gives ${parsed.data.length} patches; a target has ${PATCH_COUNT}.`);
  return parsed.data;
}

function readJson(text: string): unknown {
  try {
    const { patches } = JSON.parse(text) as { patches?: { lab?: unknown }[] };
    return patches?.map((patch) => patch.lab);
  } catch {
    return null;
  }
}

const readLines = (text: string) =>
  text
    .split(/\r?\n/)
    .map(
      (line) =>
        line
          .match(/-?\d+(?:\.\d+)?/g)
          ?.slice(-3)
          .map(Number) ?? [],
    )
    .filter((numbers) => numbers.length === 3);
