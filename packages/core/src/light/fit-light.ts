import { eliminate } from '../geometry/eliminate.ts';
import { MAD_TO_DEVIATION, weighTukey } from '../geometry/least-squares.ts';
import { listTerms, lowerLight, raiseLight, type LightSurface } from './even-light.ts';

/** Light of one thing at places of a surface, 0 to 1 across it: u, v, red, green, blue of each. */
export interface LightSamples {
  readonly count: number;
  readonly values: Float64Array;
}

export interface FittedLight extends LightSurface {
  readonly shape: Shape;
  /** Which samples it holds for. */
  readonly isHeld: readonly boolean[];
  /**
   * How much darker the darkest part of the square is than the brightest once it is evened out, in shares of
   * that: by the means of those samples in sixteen parts of it, each told without its own eighth.
   */
  readonly left: number;
  /** Standard deviation of those from it, in shares of their light. */
  readonly spread: number;
  /** The same for places that it was not told by: each eighth about the middle by the other seven. */
  readonly foretold: number;
}

/** A shape that a surface can have: what power of light, and how many terms. */
export interface Shape {
  readonly power: number;
  readonly terms: 6 | 10 | 15;
  /** Light of the room, as a share of that of the darker places. */
  readonly room: number;
}

/** A ring tells no more than these of what lies inside of it. */
const LOW: readonly Shape[] = [
  ...[0, 0.25, 0.5, 0.75].map((room): Shape => ({ power: -2 / 3, terms: 6, room })),
  { power: -1 / 2, terms: 6, room: 0 },
  { power: 0, terms: 6, room: 0 },
];
/** Where most of the surface is seen, and where all parts of it are. */
const MIDDLE: readonly Shape[] = [
  ...LOW,
  { power: 0, terms: 10, room: 0 },
  { power: -2 / 3, terms: 10, room: 0 },
];
const FINE: readonly Shape[] = [
  ...MIDDLE,
  { power: 0, terms: 15, room: 0 },
  { power: -2 / 3, terms: 15, room: 0 },
];
/** Where all of it is seen, nothing has to be foretold. */
const WHOLE: readonly Shape[] = [-2 / 3, -1 / 3, 0].map((power) => ({ power, terms: 15, room: 0 }));
const SHAPES = { low: LOW, middle: MIDDLE, fine: FINE, whole: WHOLE } as const;
export type LightDetail = keyof typeof SHAPES;
/** More terms have to foretell better by so much. */
const TERM_ROOM = 1.15;
const SECTORS = 8;
const ROUNDS = 9;
/** Rounds in which everything has its say, the far less. */
const GENTLE_ROUNDS = 4;
/** Spread below which the rounding of eight bits tells more than the light. */
const LEAST_SPREAD = 0.004;
const SIDES = [0, 1, 2] as const;
const HELD_SIGMAS = 3;

/**
 * Fits a low-order surface to the light of samples of one thing, a paper's margin, some of which may be of
 * other things. Of several shapes that one is taken that foretells left-out parts best. null where there are
 * too few samples, or nothing they agree on.
 */
export function fitLight(given: LightSamples, detail: LightDetail | FittedLight = 'low'): FittedLight | null {
  if (given.count < 60) return null;
  const samples = prepare(given);
  let best: FittedLight | null = null;
  const shapes = typeof detail === 'string' ? SHAPES[detail] : [detail.shape];
  for (const shape of shapes) {
    const fitted = fitShape(samples, shape);
    if (!fitted) continue;
    const off = (each: FittedLight) => (detail === 'whole' ? each.spread : each.foretold);
    const room = best && fitted.shape.terms > best.shape.terms ? TERM_ROOM : 1;
    if (!best || off(fitted) * room < off(best)) best = fitted;
  }
  return best;
}

const MOST_TERMS = 15;

interface Prepared extends LightSamples {
  /** Terms of each sample, `MOST_TERMS` each: fewer are the first of them. */
  readonly terms: Float64Array;
  readonly sectors: Uint8Array;
}

/** Light of one side, or the mean of all, above the room's, raised to a shape's power. */
interface Raised extends Prepared {
  readonly raised: Float64Array;
  /** What share of all light that is. */
  readonly shares: Float64Array;
}

/** Sides by their number; 3 is the mean of all. */
type SideOrMean = 0 | 1 | 2 | 3;

const readSide = (values: Float64Array, at: number, side: SideOrMean) =>
  side === 3
    ? ((values[at + 2] as number) + (values[at + 3] as number) + (values[at + 4] as number)) / 3
    : (values[at + 2 + side] as number);

function raiseSamples(prepared: Prepared, power: number, side: SideOrMean, floor: number): Raised {
  const { count, values } = prepared;
  const [raised, shares] = [new Float64Array(count), new Float64Array(count)];
  for (let sample = 0; sample < count; sample += 1) {
    const light = Math.max(1e-5, readSide(values, sample * 5, side));
    const above = Math.max(light - floor, 0.02 * light);
    raised[sample] = raiseLight(above, power);
    shares[sample] = above / light;
  }
  return { ...prepared, raised, shares };
}

function prepare(samples: LightSamples): Prepared {
  const { count, values } = samples;
  const terms = new Float64Array(count * MOST_TERMS);
  const sectors = new Uint8Array(count);
  for (let sample = 0; sample < count; sample += 1) {
    const [u, v] = [values[sample * 5] as number, values[sample * 5 + 1] as number];
    terms.set(listTerms(2 * u - 1, 2 * v - 1, MOST_TERMS), sample * MOST_TERMS);
    const angle = Math.atan2(v - 0.5, u - 0.5) / Math.PI + 1;
    sectors[sample] = Math.floor((angle / 2) * SECTORS) % SECTORS;
  }
  return { count, values, terms, sectors };
}

function fitShape(prepared: Prepared, shape: Shape): FittedLight | null {
  const room = shape.room * findDark(prepared);
  const samples = raiseSamples(prepared, shape.power, 3, room);
  // The mean of all sides tells what belongs to it.
  const common = fitSide(samples, shape, new Float64Array(samples.count).fill(1), true);
  if (!common) return null;
  const { surface, errors } = tintSides(samples, shape, common, room);
  const sorted = errors.slice().sort();
  const scale = Math.max(LEAST_SPREAD, MAD_TO_DEVIATION * (sorted[sorted.length >> 1] ?? 1));
  const isHeld = Array.from(errors, (error) => error < HELD_SIGMAS * scale);
  let [sum, held] = [0, 0];
  errors.forEach((error, sample) => {
    if (!isHeld[sample]) return;
    sum += error * error;
    held += 1;
  });
  const told = foretell(samples, shape, isHeld);
  return told && { ...surface, shape, isHeld, spread: Math.sqrt(sum / Math.max(1, held)), ...told };
}

/** A side of its own has to fit so much better than the common surface in that side's tint. */
const OWN_GAIN = 0.7;
/** Sides darker than this are hardly more than steps of eight bits. */
const LEAST_OWN = 0.02;
/** Light of a side from which on its error tells something else than steps of eight bits. */
export const FULLY_TOLD = 0.05;

/**
 * The common surface in the tint of each side; where lamps of two colors light it, each side has a surface of
 * its own. With the farthest side's error of each sample, in shares of its light.
 */
function tintSides(
  samples: Raised,
  shape: Shape,
  common: { readonly factors: readonly number[]; readonly weights: Float64Array },
  room: number,
): { readonly surface: LightSurface; readonly errors: Float64Array } {
  const { power } = shape;
  const { count } = samples;
  const mean = readSurface(samples, shape, common.factors, room);
  const farthest = new Float64Array(count);
  const told = SIDES.map((side) => {
    const ratio = measureTint(samples, mean, side, common.weights);
    const tinted = common.factors.map((factor, term) =>
      power === 0 ? factor + (term === 0 ? Math.log(ratio) : 0) : factor * ratio ** power,
    );
    const floor = room * ratio;
    const raised = raiseSamples(samples, power, side, floor);
    const [errors, ownErrors] = [new Float64Array(count), new Float64Array(count)];
    fillErrors(raised, shape, tinted, errors);
    const own = fitSide(raised, shape, common.weights.slice(), false)?.factors ?? tinted;
    fillErrors(raised, shape, own, ownErrors);
    const isOwn =
      measureRms(ownErrors, common.weights) < OWN_GAIN * measureRms(errors, common.weights) &&
      ratio * findDark(samples) >= LEAST_OWN;
    (isOwn ? ownErrors : errors).forEach((error, sample) => {
      const told = Math.min(1, readSide(samples.values, sample * 5, side) / FULLY_TOLD);
      farthest[sample] = Math.max(farthest[sample] as number, Math.abs(error) * told);
    });
    return { factors: isOwn ? own : tinted, floor };
  });
  const surface = {
    power,
    sides: told.map(({ factors }) => factors) as unknown as LightSurface['sides'],
    floor: told.map(({ floor }) => floor) as unknown as LightSurface['floor'],
  };
  return { surface, errors: farthest };
}

/** Light that a surface has at every sample. */
function readSurface(
  samples: Raised,
  { power, terms }: Shape,
  factors: readonly number[],
  room: number,
): Float64Array {
  const light = new Float64Array(samples.count);
  for (let sample = 0; sample < light.length; sample += 1) {
    let value = 0;
    for (let term = 0; term < terms; term += 1)
      value += (factors[term] as number) * (samples.terms[sample * MOST_TERMS + term] as number);
    light[sample] = room + lowerLight(value, power);
  }
  return light;
}

/** How much light one side has to the mean of all, by the middle of what belongs to the surface. */
function measureTint(
  { count, values }: Prepared,
  mean: Float64Array,
  side: 0 | 1 | 2,
  weights: Float64Array,
): number {
  const ratios = new Float64Array(count);
  let known = 0;
  for (let sample = 0; sample < count; sample += 1) {
    if ((weights[sample] as number) < 0.3) continue;
    ratios[known] = readSide(values, sample * 5, side) / Math.max(mean[sample] as number, 1e-9);
    known += 1;
  }
  return Math.max(1e-3, ratios.subarray(0, known).sort()[known >> 1] ?? 1);
}

function measureRms(errors: Float64Array, weights: Float64Array): number {
  let [sum, all] = [0, 0];
  for (let sample = 0; sample < errors.length; sample += 1) {
    sum += (weights[sample] as number) * (errors[sample] as number) ** 2;
    all += weights[sample] as number;
  }
  return Math.sqrt(sum / Math.max(1e-9, all));
}

/** Mean light that a tenth of the samples does not reach. */
function findDark({ count, values }: Prepared): number {
  const all = Float64Array.from({ length: count }, (_, sample) => readSide(values, sample * 5, 3));
  return all.sort()[Math.floor(count / 10)] ?? 0;
}

/**
 * What becomes of the samples that a surface holds for, each told by the other seven eighths: their root mean
 * square error, and what is left between the parts of the square.
 */
function foretell(
  samples: Raised,
  shape: Shape,
  isHeld: readonly boolean[],
): Pick<FittedLight, 'foretold' | 'left'> | null {
  const size = shape.terms * (shape.terms + 1);
  const weights = Float64Array.from(isHeld, (held) => (held ? 1 : 0));
  const tables = Array.from({ length: SECTORS }, () => new Float64Array(size));
  accumulate(samples, shape, weights, tables, samples.sectors);
  const [errors, own] = [new Float64Array(samples.count), new Float64Array(samples.count)];
  for (let sector = 0; sector < SECTORS; sector += 1) {
    const others = new Float64Array(size);
    tables.forEach((table, index) => {
      if (index !== sector)
        for (let at = 0; at < size; at += 1) others[at] = (others[at] ?? 0) + (table[at] ?? 0);
    });
    const factors = solveSums(others, shape.terms);
    if (!factors) return null;
    fillErrors(samples, shape, factors, own);
    for (let sample = 0; sample < samples.count; sample += 1)
      if (samples.sectors[sample] === sector) errors[sample] = own[sample] as number;
  }
  const held = errors.filter((_, sample) => isHeld[sample]);
  if (held.length === 0) return null;
  const foretold = Math.sqrt(held.reduce((sum, error) => sum + error * error, 0) / held.length);
  return { foretold, left: measureLeft(samples, errors, isHeld) };
}

const PARTS = 4;
/** Fewer samples tell of their grain rather than of the light. */
const LEAST_OF_PART = 8;

function measureLeft({ values }: Prepared, errors: Float64Array, isHeld: readonly boolean[]): number {
  const parts = Array.from({ length: PARTS * PARTS }, () => ({ sum: 0, count: 0 }));
  const partOf = (share: number) => Math.max(0, Math.min(PARTS - 1, Math.floor(share * PARTS)));
  errors.forEach((error, sample) => {
    const [u, v] = [values[sample * 5] as number, values[sample * 5 + 1] as number];
    const part = isHeld[sample] ? parts[partOf(v) * PARTS + partOf(u)] : undefined;
    if (!part) return;
    part.sum += error;
    part.count += 1;
  });
  const means = parts.filter(({ count }) => count >= LEAST_OF_PART).map(({ sum, count }) => sum / count);
  return means.length < 2 ? 1 : Math.min(1, Math.max(...means) - Math.min(...means));
}

/** Errors of a surface at every sample, in shares of light. */
function fillErrors(
  samples: Raised,
  { power, terms }: Shape,
  factors: readonly number[],
  errors: Float64Array,
): void {
  const own = Float64Array.from(factors);
  const { raised, shares, terms: all } = samples;
  for (let sample = 0; sample < errors.length; sample += 1) {
    const first = sample * MOST_TERMS;
    let value = 0;
    for (let term = 0; term < terms; term += 1)
      value += (own[term] as number) * (all[first + term] as number);
    const wanted = raised[sample] as number;
    // Of light itself, to first order: a power's error is so many times that of light.
    const off = power === 0 ? wanted - value : (wanted - value) / (power * wanted);
    errors[sample] = off * (shares[sample] as number);
  }
}

/** One surface through most of the samples (iteratively reweighted least squares, Tukey's biweight). */
function fitSide(
  samples: Raised,
  shape: Shape,
  weights: Float64Array,
  isFirst: boolean,
): { factors: number[]; weights: Float64Array } | null {
  const { count } = samples;
  const given = weights.slice();
  const [errors, sorted] = [new Float64Array(count), new Float64Array(count)];
  let factors: number[] | null = null;
  for (let round = 0; round < (isFirst ? ROUNDS : GENTLE_ROUNDS - 1); round += 1) {
    factors = solve(samples, shape, weights);
    if (!factors) return null;
    fillErrors(samples, shape, factors, errors);
    let known = 0;
    for (let sample = 0; sample < count; sample += 1)
      if ((given[sample] as number) > 0) sorted[known++] = Math.abs(errors[sample] as number);
    const own = sorted.subarray(0, known).sort();
    const scale = Math.max(LEAST_SPREAD, MAD_TO_DEVIATION * (own[known >> 1] ?? 1));
    const isGentle = isFirst && round < GENTLE_ROUNDS;
    for (let sample = 0; sample < count; sample += 1) {
      const error = errors[sample] as number;
      // Paper is the lightest thing of a sheet: what is darker is rather something drawn on it.
      const far = Math.abs(error) / scale;
      const share = isGentle ? (error < 0 ? 1 / (1 + 2 * far) : 1 / (1 + 0.5 * far)) : weighTukey(far);
      weights[sample] = (given[sample] as number) * share;
    }
  }
  return factors ? { factors, weights } : null;
}

/** Weighted least squares by the normal equations; errors count in shares of light. */
function solve(samples: Raised, shape: Shape, weights: Float64Array): number[] | null {
  const sums = new Float64Array(shape.terms * (shape.terms + 1));
  accumulate(samples, shape, weights, [sums], null);
  return solveSums(sums, shape.terms);
}

/** Adds up the normal equations of samples, each into the table that `which` names. */
function accumulate(
  samples: Raised,
  { power, terms }: Shape,
  weights: Float64Array,
  tables: readonly Float64Array[],
  which: Uint8Array | null,
): void {
  const { count, raised, shares, terms: all } = samples;
  for (let sample = 0; sample < count; sample += 1) {
    const weight = weights[sample] as number;
    if (weight <= 0) continue;
    const rows = tables[which ? (which[sample] as number) : 0] as Float64Array;
    const wanted = raised[sample] as number;
    const lever = (shares[sample] as number) / (power === 0 ? 1 : power * wanted);
    const relative = weight * lever * lever;
    const first = sample * MOST_TERMS;
    let at = 0;
    for (let row = 0; row < terms; row += 1) {
      const by = relative * (all[first + row] as number);
      at += row;
      for (let column = row; column < terms; column += 1, at += 1)
        rows[at] = (rows[at] as number) + by * (all[first + column] as number);
      rows[at] = (rows[at] as number) + by * wanted;
      at += 1;
    }
  }
}

function solveSums(sums: Float64Array, terms: number): number[] | null {
  const width = terms + 1;
  const rows = sums.slice();
  for (let row = 0; row < terms; row += 1)
    for (let column = 0; column < row; column += 1)
      rows[row * width + column] = rows[column * width + row] as number;
  return eliminate(rows, terms);
}
