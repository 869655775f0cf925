import { readLight } from '../color/lab.ts';
import { describeNeutral } from '../color/white.ts';
import { applyProjective, mapSquareTo, type Projective, type Quad } from '../geometry/projective.ts';
import {
  findBrightest,
  measureUnevenness,
  EvenLight,
  readLightAt,
  type LightSurface,
} from '../light/even-light.ts';
import { fitLight, FULLY_TOLD, type FittedLight, type LightSamples } from '../light/fit-light.ts';
import type { SeenLight } from '../light/seen-light.ts';
import type { RgbPicture } from './rgb-picture.ts';

/** Places along each side of a ring. */
const ALONG = 32;
/** How far inside (or, below 0, outside) the sides a ring lies, in shares of the shorter one. */
const RINGS = {
  margin: [0.014, 0.019, 0.025, 0.032, 0.04, 0.05, 0.062],
  ground: [-0.03, -0.04, -0.05, -0.06, -0.075, -0.09],
  border: [0.012, 0.02, 0.03, 0.045, 0.06, 0.08],
} as const;
/** The innermost rings may lie on the piece already, however narrow its margin is. */
const OUTER_RINGS = 3;
/** Points of the picture that its corners may be off. */
const LEAST_INSET_PX = 3.5;
const SECTORS = 16;
/** Of the outer rings so much has to be the same thing, and in so many of their sectors. */
const LEAST_SHARE = 0.6;
const LEAST_SECTORS = 12;
/** Grain of paper and camera stay below it. */
const MOST_SPREAD = { margin: 0.09, ground: 0.09, border: 0.06 } as const;
/** What goes on from one place to the next is no grain: a wash of paint, a pattern. */
const MOST_STRUCTURE = { margin: 0.022, ground: 0.03, border: 0.02 } as const;
/** What lies in a ring along the sides of a piece, or of a picture. */
export type Ringed = keyof typeof RINGS;
/** Light that is as even as this needs nothing. */
const LEAST_UNEVENNESS = 0.04;
const CLIPPED = 253;
const DARK = 6;
/** Blank paper inside of the margin hangs together with it and is so near its light. */
const GRID = 96;
const NEAR = 0.03;
const GROWTHS = 3;
/** Nothing on a sheet is brighter than its paper, but for some chalk and what shines. */
const BRIGHTER = 0.07;
const MOST_BRIGHTER = 0.08;
/** Lamps that paper is seen under; what is beyond is a colored ground. */
const LAMPS = { kelvin: [1900, 9000], tint: 0.04 } as const;
const SIDES = [0, 1, 2] as const;

/**
 * How the lamp's light falls off over a piece, told from the margin of its sheet, else from the ground around
 * it, never from what is drawn on it; without a piece from the border of the picture. Corners are in shares
 * of its edges. null where nothing tells; `even` is of use only where it is uneven (`isUneven`).
 */
export function seeLight(picture: RgbPicture, corners: EvenLight['corners'] | null): SeenLight | null {
  const read = buildReader(picture, corners);
  const ways: readonly Ringed[] = corners ? ['margin', 'ground'] : ['border'];
  for (const by of ways) {
    const ring = fitRing(read, by);
    if (ring && isOneThing(ring)) return tellLight(read, ring, corners);
  }
  return null;
}

/**
 * How a photograph is lit whose lamp was evened out, told by what told of it before. That this is paper, or
 * ground, is known: grain, which grows with the light, need not stay below what would show it. null where
 * nothing of it can be read any more.
 */
export function seeLightLeft(
  picture: RgbPicture,
  corners: EvenLight['corners'] | null,
  by: Ringed,
): SeenLight | null {
  const read = buildReader(picture, corners);
  const ring = fitRing(read, by);
  return ring && tellLight(read, ring, corners);
}

function tellLight(read: Reader, found: Ring, corners: EvenLight['corners'] | null): SeenLight | null {
  const { fitted, by } = found;
  const grown = by === 'margin' ? growPaper(read, found.samples, fitted) : fitted;
  // A ground has a color of its own: what it tells of the light is its brightness.
  const surface = round(by === 'margin' ? grown : dropColor(grown));
  // A surface that a ring tells may have no light in the middle, where nobody looked.
  const even = EvenLight.safeParse({ ...surface, corners });
  if (!even.success) return null;
  const paper = by === 'margin' && isPaper(read, surface, grown.spread) ? findBrightest(surface) : null;
  return {
    even: even.data,
    by,
    before: measureUnevenness(surface),
    after: grown.left,
    paper: paper && [paper[0], paper[1], paper[2]],
  };
}

/** So much of a blank sheet has to be blank. */
const LEAST_BLANK = 0.9;
const BLANK_GRID = 44;

/**
 * The same from a second photograph, of a blank sheet in the same place under the same lamp, at the same
 * corners. Throws a `RangeError` in words where it was taken in another size, or is not blank there.
 */
export function seeBlankSheet(
  sheet: RgbPicture,
  size: { readonly widthPx: number; readonly heightPx: number },
  corners: EvenLight['corners'],
): SeenLight {
  const [own, other] = [size.widthPx / size.heightPx, sheet.widthPx / sheet.heightPx];
  if (Math.abs(own / other - 1) > 0.01)
    throw new RangeError(
      'The blank sheet was photographed in another size: use the same camera, held alike.',
    );
  const read = buildReader(sheet, corners);
  const values: number[] = [];
  for (let row = 0; row < BLANK_GRID; row += 1)
    for (let column = 0; column < BLANK_GRID; column += 1) {
      const [u, v] = [(column + 0.5) / BLANK_GRID, (row + 0.5) / BLANK_GRID];
      const light = read.at(u, v);
      if (light) values.push(u, v, ...light);
    }
  const fitted = fitLight({ count: values.length / 5, values: Float64Array.from(values) }, 'whole');
  const held = fitted?.isHeld.filter(Boolean).length ?? 0;
  if (!fitted || held < LEAST_BLANK * BLANK_GRID ** 2 || fitted.spread > MOST_SPREAD.margin)
    throw new RangeError('That photograph shows no blank sheet in this place, or it is too bright.');
  const surface = round(fitted);
  if (!EvenLight.safeParse({ ...surface, corners }).success)
    throw new RangeError('That photograph of a blank sheet has no light at some place.');
  const [red, green, blue] = findBrightest(surface);
  return {
    even: { ...surface, corners },
    by: 'sheet',
    before: measureUnevenness(surface),
    after: fitted.left,
    paper: [red, green, blue],
  };
}

export const isUneven = ({ before, after }: Pick<SeenLight, 'before' | 'after'>) =>
  before >= LEAST_UNEVENNESS && after < before / 2;

interface Reader {
  /** Light at a place of the piece, 0 to 1 across it; null where it cannot be told. */
  readonly at: (u: number, v: number) => readonly [number, number, number] | null;
  /** Width to height, roughly, in points of the picture. */
  readonly widthPx: number;
  readonly heightPx: number;
}

function buildReader(picture: RgbPicture, corners: EvenLight['corners']): Reader {
  const { widthPx, heightPx, bytes, bands } = picture;
  const map: Projective | null = corners && mapSquareTo(corners);
  const lights = blurLight(picture);
  const light = (x: number, y: number, side: number) => lights[(y * widthPx + x) * 3 + side] as number;
  const at = (u: number, v: number) => {
    const place = map ? applyProjective(map, { x: u, y: v }) : { x: u, y: v };
    const [px, py] = [place.x * widthPx - 0.5, place.y * heightPx - 0.5];
    const [left, top] = [Math.floor(px), Math.floor(py)];
    if (!(left >= 0) || !(top >= 0) || left >= widthPx - 1 || top >= heightPx - 1) return null;
    const [fx, fy] = [px - left, py - top];
    const first = (top * widthPx + left) * bands;
    for (const side of SIDES) if ((bytes[first + side] as number) >= CLIPPED) return null;
    if (SIDES.every((side) => (bytes[first + side] as number) < DARK)) return null;
    return SIDES.map(
      (side) =>
        (1 - fy) * ((1 - fx) * light(left, top, side) + fx * light(left + 1, top, side)) +
        fy * ((1 - fx) * light(left, top + 1, side) + fx * light(left + 1, top + 1, side)),
    ) as unknown as readonly [number, number, number];
  };
  const quad: Quad = corners ?? [
    { x: 0, y: 0 },
    { x: 1, y: 0 },
    { x: 1, y: 1 },
    { x: 0, y: 1 },
  ];
  const length = (from: number, to: number) => {
    const [a, b] = [quad[from as 0], quad[to as 0]];
    const [x, y] = [(b.x - a.x) * widthPx, (b.y - a.y) * heightPx];
    return Math.sqrt(x * x + y * y);
  };
  return {
    at,
    widthPx: Math.max(1, (length(0, 1) + length(3, 2)) / 2),
    heightPx: Math.max(1, (length(0, 3) + length(1, 2)) / 2),
  };
}

/** Means of the light of nine points about each: a camera's grain tells nothing of a lamp. */
function blurLight({ widthPx: w, heightPx: h, bytes, bands }: RgbPicture): Float32Array {
  const row = new Float32Array(w * h * 3);
  for (let y = 0; y < h; y += 1)
    for (let x = 0; x < w; x += 1)
      for (const side of SIDES) {
        let sum = 0;
        for (let off = -1; off <= 1; off += 1)
          sum += readLight(bytes[(y * w + Math.max(0, Math.min(w - 1, x + off))) * bands + side] as number);
        row[(y * w + x) * 3 + side] = sum / 3;
      }
  const made = new Float32Array(row.length);
  for (let y = 0; y < h; y += 1) {
    const [above, below] = [Math.max(0, y - 1) * w * 3, Math.min(h - 1, y + 1) * w * 3];
    for (let at = 0; at < w * 3; at += 1)
      made[y * w * 3 + at] =
        ((row[above + at] as number) + (row[y * w * 3 + at] as number) + (row[below + at] as number)) / 3;
  }
  return made;
}

interface Ring {
  readonly samples: LightSamples;
  readonly fitted: FittedLight;
  readonly by: Ringed;
  /** Of each sample in which ring it lies, and in which sector. */
  readonly rings: readonly number[];
  readonly sectors: readonly number[];
}

function fitRing(read: Reader, by: Ringed): Ring | null {
  const values: number[] = [];
  const [rings, sectors]: [number[], number[]] = [[], []];
  const short = Math.min(read.widthPx, read.heightPx);
  RINGS[by].forEach((depth, ring) => {
    const px = depth * short;
    const inset = depth > 0 ? px + LEAST_INSET_PX : px - LEAST_INSET_PX;
    const [du, dv] = [inset / read.widthPx, inset / read.heightPx];
    for (let step = 0; step < 4 * ALONG; step += 1) {
      const share = ((step % ALONG) + 0.5) / ALONG;
      const side = Math.floor(step / ALONG);
      const [alongU, alongV] = [du + share * (1 - 2 * du), dv + share * (1 - 2 * dv)];
      const [u, v] = [
        [alongU, dv],
        [1 - du, alongV],
        [alongU, 1 - dv],
        [du, alongV],
      ][side] as [number, number];
      const light = read.at(u, v);
      if (!light) continue;
      values.push(u, v, ...light);
      rings.push(ring);
      sectors.push(Math.floor((step * SECTORS) / (4 * ALONG)));
    }
  });
  const samples = { count: rings.length, values: Float64Array.from(values) };
  const fitted = fitLight(samples);
  return fitted && { samples, fitted, by, rings, sectors };
}

/** Whether all of a ring is the same thing, under one light. */
function isOneThing({ samples, fitted, by, rings, sectors }: Ring): boolean {
  if (fitted.spread > MOST_SPREAD[by] || fitted.foretold > MOST_SPREAD[by]) return false;
  if (measureStructure(samples, fitted) > MOST_STRUCTURE[by]) return false;
  const outer = rings.flatMap((ring, index) => (ring < OUTER_RINGS ? [index] : []));
  const all = 4 * ALONG * OUTER_RINGS;
  const held = outer.filter((index) => fitted.isHeld[index]);
  const bySector = new Array<number>(SECTORS).fill(0);
  for (const index of held) bySector[sectors[index] ?? 0] = (bySector[sectors[index] ?? 0] ?? 0) + 1;
  const good = bySector.filter((count) => count >= (0.5 * all) / SECTORS).length;
  return held.length >= LEAST_SHARE * all && good >= LEAST_SECTORS;
}

/** What is left of samples that lie beside one another beyond what changes from each to the next. */
function measureStructure({ count, values }: LightSamples, fitted: FittedLight): number {
  const errors = Float64Array.from({ length: count }, (_, sample) => {
    const at = sample * 5;
    let [own, wanted] = [0, 0];
    for (const side of SIDES) {
      own += values[at + 2 + side] as number;
      wanted += readLightAt(fitted, side, values[at] as number, values[at + 1] as number);
    }
    return own / wanted - 1;
  });
  let [all, grain, known] = [0, 0, 0];
  for (let sample = 1; sample < count; sample += 1) {
    if (!fitted.isHeld[sample] || !fitted.isHeld[sample - 1]) continue;
    const [error, before] = [errors[sample] as number, errors[sample - 1] as number];
    all += error * error;
    grain += (error - before) ** 2 / 2;
    known += 1;
  }
  return Math.sqrt(Math.max(0, all - grain) / Math.max(1, known));
}

/** Blank paper that hangs together with the margin tells the light inside of it. */
function growPaper(read: Reader, ring: LightSamples, first: FittedLight): FittedLight {
  const cells = Array.from({ length: GRID * GRID }, (_, cell) =>
    read.at(((cell % GRID) + 0.5) / GRID, (Math.floor(cell / GRID) + 0.5) / GRID),
  );
  const margin = [...Array(ring.count).keys()]
    .filter((sample) => first.isHeld[sample])
    .flatMap((sample) => [...ring.values.subarray(sample * 5, sample * 5 + 5)]);
  let best = first;
  for (let growth = 0; growth < GROWTHS; growth += 1) {
    const inside = floodPaper(cells, best);
    const values = Float64Array.from([...margin, ...thin(inside)]);
    const isFree = growth === GROWTHS - 1;
    const blocks = countBlocks(inside);
    const seen = blocks >= SEEN.fine ? 'fine' : blocks >= SEEN.middle ? 'middle' : 'low';
    const next = fitLight({ count: values.length / 5, values }, isFree ? seen : best);
    if (!next || next.spread > MOST_SPREAD.margin) break;
    best = next;
  }
  return best;
}

/** Of the 16 parts of a sheet so many have to be seen blank for finer surfaces. */
const SEEN = { fine: 16, middle: 14 } as const;
const BLOCKS = 4;
/** Cells that a part needs to count. */
const LEAST_CELLS = 0.06 * (GRID / BLOCKS) ** 2;

function countBlocks(samples: readonly number[]): number {
  const counts = new Array<number>(BLOCKS * BLOCKS).fill(0);
  for (let at = 0; at < samples.length; at += 5) {
    const [column, row] = [samples[at], samples[at + 1]].map((share) => Math.floor((share ?? 0) * BLOCKS));
    const block = (row ?? 0) * BLOCKS + (column ?? 0);
    counts[block] = (counts[block] ?? 0) + 1;
  }
  return counts.filter((count) => count >= LEAST_CELLS).length;
}

const MOST_INSIDE = 700;

/** Some of many samples, spread evenly over them. */
function thin(samples: readonly number[]): number[] {
  const step = Math.max(1, Math.ceil(samples.length / 5 / MOST_INSIDE));
  return samples.filter((_, index) => Math.floor(index / 5) % step === 0);
}

/** u, v and light of the cells that are paper and are reached over paper from the border. */
function floodPaper(
  cells: readonly (readonly [number, number, number] | null)[],
  surface: LightSurface,
): number[] {
  const near = cells.map((light, cell) => {
    if (!light) return false;
    const [u, v] = [((cell % GRID) + 0.5) / GRID, (Math.floor(cell / GRID) + 0.5) / GRID];
    return SIDES.every((side) => {
      const told = Math.min(1, light[side] / FULLY_TOLD);
      return Math.abs(light[side] / readLightAt(surface, side, u, v) - 1) * told < NEAR;
    });
  });
  const seen = new Uint8Array(GRID * GRID);
  const stack: number[] = [];
  const visit = (column: number, row: number) => {
    if (column < 0 || row < 0 || column >= GRID || row >= GRID) return;
    const cell = row * GRID + column;
    if (!near[cell] || seen[cell]) return;
    seen[cell] = 1;
    stack.push(cell);
  };
  const FROM = 2;
  for (let index = FROM; index < GRID - FROM; index += 1) {
    visit(index, FROM);
    visit(index, GRID - 1 - FROM);
    visit(FROM, index);
    visit(GRID - 1 - FROM, index);
  }
  const found: number[] = [];
  for (let cell = stack.pop(); cell !== undefined; cell = stack.pop()) {
    const [column, row] = [cell % GRID, Math.floor(cell / GRID)];
    const light = cells[cell];
    if (light) found.push((column + 0.5) / GRID, (row + 0.5) / GRID, ...light);
    visit(column - 1, row);
    visit(column + 1, row);
    visit(column, row - 1);
    visit(column, row + 1);
  }
  return found;
}

/** The surface of green, which is nearest to brightness, for all sides. */
function dropColor({ power, sides, floor }: LightSurface): LightSurface {
  return { power, sides: [sides[1], sides[1], sides[1]], floor: [floor[1], floor[1], floor[1]] };
}

const round = ({ power, sides, floor }: LightSurface): Omit<EvenLight, 'corners'> => {
  const digits = (value: number) => Number(value.toPrecision(7));
  return {
    power: digits(power),
    sides: sides.map((side) => side.map(digits)) as EvenLight['sides'],
    floor: floor.map(digits) as EvenLight['floor'],
  };
};

/** Whether a margin is blank paper: under a lamp that there is, and the lightest thing of the sheet. */
function isPaper(read: Reader, surface: LightSurface, spread: number): boolean {
  const brightest = 1 + Math.max(BRIGHTER, 3 * spread);
  const { kelvin, tint } = describeNeutral(findBrightest(surface));
  const [coldest, hottest] = LAMPS.kelvin;
  if (kelvin < coldest || kelvin > hottest || Math.abs(tint) > LAMPS.tint) return false;
  let [brighter, count] = [0, 0];
  for (let row = 3; row < GRID - 3; row += 2)
    for (let column = 3; column < GRID - 3; column += 2) {
      const [u, v] = [(column + 0.5) / GRID, (row + 0.5) / GRID];
      const light = read.at(u, v);
      if (!light) continue;
      count += 1;
      const own = (light[0] + light[1] + light[2]) / 3;
      const paper = SIDES.reduce<number>((sum, side) => sum + readLightAt(surface, side, u, v), 0) / 3;
      if (own > brightest * paper) brighter += 1;
    }
  return count > 100 && brighter < MOST_BRIGHTER * count;
}
