import { z } from 'zod';
import { Corner } from '../geometry/flatten.ts';
import {
  applyProjective,
  invertProjective,
  mapSquareTo,
  type Point,
  type Projective,
} from '../geometry/projective.ts';
import type { GainMap } from './gain-map.ts';

/** Terms of surfaces of the second, third and fourth degree. */
const TERM_COUNTS = [6, 10, 15] as const;
const Surface = z
  .array(z.number().min(-1e6).max(1e6))
  .refine(({ length }) => TERM_COUNTS.some((count) => count === length), {
    message: 'A surface has 6, 10 or 15 terms.',
  });

const Floor = z.number().min(0).max(1);

/** Beyond the places that told it a surface goes on for so much of their size, and stays from there. */
const BEYOND = 0.35;
/** Nothing is made brighter or darker by more. */
const MOST_LIGHT_GAIN = 8;
const GRID = 12;
const SAME: Projective = [1, 0, 0, 0, 1, 0, 0, 0, 1];

type Sides = readonly [number, number, number];

/** Light of red, green and blue over a square, −1 to 1 across it both ways. */
export interface LightSurface {
  readonly power: number;
  readonly sides: readonly [readonly number[], readonly number[], readonly number[]];
  /** Light of each side that comes from everywhere, and is the same at every place. */
  readonly floor: readonly [number, number, number];
}

/**
 * How a lamp lights a photograph: a low-order surface of the light of each side (red, green, blue) raised to
 * a power. A small lamp above a desk gives I·h/r³, whose power −2/3 is exactly of the second degree.
 */
export const EvenLight = z
  .strictObject({
    /** Where in the photograph the surface lies, in shares of its edges; null for all of it. */
    corners: z.tuple([Corner, Corner, Corner, Corner]).nullable(),
    /** Power of light that the surface tells; 0 for its natural logarithm. */
    power: z.number().min(-1).max(1),
    /** Factors of 1, s, t, s², st, t², s³, s²t … with s and t from −1 to 1 across it. */
    sides: z.tuple([Surface, Surface, Surface]),
    /** Light of the room that comes on top of that, the same everywhere. */
    floor: z.tuple([Floor, Floor, Floor]),
  })
  .refine((light) => isSound(light), { message: 'The surface has no light at some place.' });
export type EvenLight = z.infer<typeof EvenLight>;

/** Factors of a surface's terms at a place, in the order of `EvenLight.sides`. */
export function listTerms(s: number, t: number, count: number): number[] {
  const terms = [1, s, t, s * s, s * t, t * t];
  if (count > 6) terms.push(s ** 3, s * s * t, s * t * t, t ** 3);
  if (count > 10) terms.push(s ** 4, s ** 3 * t, s * s * t * t, s * t ** 3, t ** 4);
  return terms;
}

export const raiseLight = (light: number, power: number) => (power === 0 ? Math.log(light) : light ** power);
export const lowerLight = (value: number, power: number) =>
  power === 0 ? Math.exp(value) : Math.max(value, 0) ** (1 / power);

/** Light of one side at shares of the surface's own edges. */
export function readLightAt({ sides, power, floor }: LightSurface, side: number, u: number, v: number) {
  const clamp = (share: number) => Math.max(-1 - 2 * BEYOND, Math.min(1 + 2 * BEYOND, 2 * share - 1));
  const factors = sides[side as 0];
  const terms = listTerms(clamp(u), clamp(v), factors.length);
  const value = factors.reduce((sum, factor, index) => sum + factor * (terms[index] ?? 0), 0);
  return (floor[side as 0] ?? 0) + lowerLight(value, power);
}

function readSidesAt(light: LightSurface, u: number, v: number): Sides {
  return [readLightAt(light, 0, u, v), readLightAt(light, 1, u, v), readLightAt(light, 2, u, v)];
}

function isSound(light: LightSurface): boolean {
  return listLights(light).every((sides) => sides.every((found) => found > 1e-5 && found < 50));
}

const weigh = ([red, green, blue]: Sides) => 0.2126 * red + 0.7152 * green + 0.0722 * blue;

/** Light of all sides at places all over the surface. */
function listLights(light: LightSurface): Sides[] {
  return Array.from({ length: (GRID + 1) ** 2 }, (_, place) =>
    readSidesAt(light, (place % (GRID + 1)) / GRID, Math.floor(place / (GRID + 1)) / GRID),
  );
}

/** Where it is brightest, what light each side has: the rest is brought to that. */
export function findBrightest(light: LightSurface): Sides {
  return listLights(light).reduce((best, own) => (weigh(own) > weigh(best) ? own : best));
}

/** How uneven the light is over the surface: its darkest place less its brightest, in shares of that. */
export function measureUnevenness(light: LightSurface): number {
  const found = listLights(light).map(weigh);
  return 1 - Math.min(...found) / Math.max(...found);
}

const holdGain = (gain: number) => Math.max(1 / MOST_LIGHT_GAIN, Math.min(MOST_LIGHT_GAIN, gain));

type ToPhoto = (place: Point) => Point;
const stay: ToPhoto = (place) => place;

/**
 * What evening out multiplies light by at a place, for many places: in shares of a picture's edges, which
 * `toPhoto` takes to those of the photograph.
 */
export function buildGains(light: EvenLight, toPhoto: ToPhoto = stay): (place: Point) => Sides {
  const square = light.corners ? invertProjective(mapSquareTo(light.corners)) : SAME;
  const wanted = findBrightest(light);
  return (place) => {
    const { x, y } = applyProjective(square, toPhoto(place));
    const [red, green, blue] = readSidesAt(light, x, y);
    return [holdGain(wanted[0] / red), holdGain(wanted[1] / green), holdGain(wanted[2] / blue)];
  };
}

const MAP_EDGE = 65;

/** The same at places spread evenly from edge to edge of a picture. */
export function mapGains(light: EvenLight, toPhoto: ToPhoto = stay, edge = MAP_EDGE): GainMap {
  const gainAt = buildGains(light, toPhoto);
  const values = new Float32Array(edge * edge * 3);
  for (let row = 0; row < edge; row += 1)
    for (let column = 0; column < edge; column += 1)
      values.set(gainAt({ x: column / (edge - 1), y: row / (edge - 1) }), (row * edge + column) * 3);
  return { columns: edge, rows: edge, values };
}
