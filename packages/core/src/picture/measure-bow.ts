import { bendPoint, MOST_BEND, straightenPoint } from '../geometry/lens.ts';
import { fitRobustly, solveLeastSquares } from '../geometry/least-squares.ts';
import type { PictureLine, Slopes } from './find-lines.ts';
import { fitLine, intersect, layLine, listEdgePlaces, type Corners, type PointPx } from './refine-corners.ts';

export interface Bow {
  /** How the lens bent the sides (`bendPoint`). */
  readonly factor: number;
  /** Where the bent sides meet, in pixels of the picture. */
  readonly corners: Corners;
}

/** A smaller factor than this moves nothing that anybody could see. */
const LEAST_BEND = 0.004;
/** It has to stand out so far from its own error, */
const SURENESS = 5;
/** every side that tells anything has to agree by this share of it, */
const DISAGREEMENT = 0.35;
/** and so many have to tell something. */
const LEAST_SIDES = 3;
const ROUNDS = 3;

/**
 * How a lens bowed the straight sides of a piece, by the places of their edges between pixels; null where
 * they are straight, or do not agree: paper that curls bows its sides too, but not as a lens does. Sides from
 * the first corner to the second, and so on round; null lies on the border of the picture.
 */
export function measureBow(
  slopes: Slopes,
  corners: Corners,
  sides: readonly (PictureLine | null)[],
): Bow | null {
  const size = { widthPx: slopes.widthPx, heightPx: slopes.heightPx };
  const seen = sides.flatMap((side, index) => {
    if (!side) return [];
    const [from, to] = [corners[index as 0], corners[((index + 1) % 4) as 0]];
    const line = layLine(from, to);
    const [cosine, sine] = [Math.cos(line.angle), Math.sin(line.angle)];
    const points = listEdgePlaces(slopes, from, to, line).map(({ along, off }) => ({
      x: off * cosine - along * sine + 0.5,
      y: off * sine + along * cosine + 0.5,
    }));
    return [{ index, line, points }];
  });
  let factor = 0;
  let told: readonly Told[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    told = seen.flatMap(({ points, line }) => fitSide(points, line, factor, size) ?? []);
    factor += averageMore(told);
    if (Math.abs(factor) > MOST_BEND) return null;
  }
  const telling = told.filter(({ error }) => error * SURENESS < Math.abs(factor));
  const isSeen = telling.length >= LEAST_SIDES && Math.abs(factor) >= LEAST_BEND;
  const isAgreed = telling.every(({ more }) => Math.abs(more) < DISAGREEMENT * Math.abs(factor));
  if (!isSeen || !isAgreed) return null;
  const straight = corners.map(({ x, y }) => straightenPoint(factor, size, { x: x + 0.5, y: y + 0.5 }));
  const lines = straight.map((from, index) => {
    const chord = layLine(from, straight[(index + 1) % 4] ?? from);
    const own = seen.find((side) => side.index === index);
    const places = own?.points.map((point) => placeOn(chord, straightenPoint(factor, size, point)));
    return (places && fitLine(places, chord)) ?? chord;
  });
  const found = lines.map((line, index) => intersect(lines[(index + 3) % 4] ?? line, line));
  if (found.some((point) => point === null)) return null;
  const bent = found.map((point) => bendPoint(factor, size, point as PointPx));
  return { factor, corners: bent.map(({ x, y }) => ({ x: x - 0.5, y: y - 0.5 })) as unknown as Corners };
}

const placeOn = ({ angle }: PictureLine, { x, y }: PointPx) => ({
  along: -x * Math.sin(angle) + y * Math.cos(angle),
  off: x * Math.cos(angle) + y * Math.sin(angle),
});

interface Told {
  /** What is to be added to the factor, by one side, and its standard error. */
  readonly more: number;
  readonly error: number;
}

/** What all sides say together: the smaller the error of one, the more it counts. */
function averageMore(told: readonly Told[]): number {
  const weights = told.map(({ error }) => 1 / error ** 2);
  const all = weights.reduce((sum, weight) => sum + weight, 0);
  return all === 0 ? 0 : told.reduce((sum, { more }, index) => sum + more * (weights[index] ?? 0), 0) / all;
}

const LEAST_PLACES = 20;
/** So far, in points, places lie off a straight edge at the least: reading between points is no better. */
const LEAST_SPREAD = 0.05;

/** How much more a side is bowed than by a factor; places far off lose their say step by step. */
function fitSide(
  points: readonly PointPx[],
  line: PictureLine,
  factor: number,
  size: { readonly widthPx: number; readonly heightPx: number },
): Told | null {
  if (points.length < LEAST_PLACES) return null;
  const [cosine, sine] = [Math.cos(line.angle), Math.sin(line.angle)];
  const scale = Math.max(size.widthPx, size.heightPx);
  const half = (size.widthPx ** 2 + size.heightPx ** 2) / 4;
  const equations = points.map((point) => {
    const { x, y } = straightenPoint(factor, size, point);
    const { along, off } = placeOn(line, { x, y });
    const [dx, dy] = [x - size.widthPx / 2, y - size.heightPx / 2];
    const bowed = ((dx * cosine + dy * sine) * (dx * dx + dy * dy)) / half;
    return { terms: [1, along / scale, bowed], wanted: off };
  });
  const found = fitRobustly(equations, 3, LEAST_SPREAD);
  if (!found) return null;
  // What of the bow is no line: its spread is what tells the factor.
  const bows = equations.map(({ terms: [one, along, bowed] }, index) => ({
    terms: [one, along] as [number, number],
    wanted: bowed as number,
    weight: found.weights[index] as number,
  }));
  const straight = solveLeastSquares(bows, 2);
  if (!straight) return null;
  const spread = bows.reduce((sum, { terms, wanted, weight }) => {
    const rest = wanted - (straight[0] as number) - (straight[1] as number) * terms[1];
    return sum + weight * rest * rest;
  }, 0);
  if (spread <= 0) return null;
  return { more: found.factors[2] as number, error: found.deviation / Math.sqrt(spread) };
}
