import { findMedian, fitProjective, solveLeastSquares } from '../geometry/least-squares.ts';
import {
  applyProjective,
  composeProjective,
  invertProjective,
  mapSquareTo,
  type Point,
  type Projective,
  type Quad,
} from '../geometry/projective.ts';
import type { SizePx } from '../geometry/turn.ts';
import { renderPicture } from './render-picture.ts';
import { convertRgbToLuma, type LumaPicture, type RgbPicture } from './rgb-picture.ts';

/** How a shot lies on the first one. */
export interface Alignment {
  /** From shares of the first shot's edges to points of this one. */
  readonly map: Projective;
  /** How far matched places lie apart after it, in points of the pictures looked at, by their median. */
  readonly offPx: number;
  readonly matched: number;
}

const GRID = { columns: 9, rows: 7 } as const;
const HALF = 12;
/** How far places may lie apart before they are matched: far for corners that were found, then near. */
const REACHES = [10, 4, 3] as const;
const LEAST_LIKE = 0.75;
const LEAST_MATCHED = 10;
/** A place is matched only where it holds something: deviation of its brightness. */
const LEAST_DEVIATION = 5;

/**
 * Lays a shot of the same piece on the first one: by the corners of the piece in both, or where they lie
 * already, then by matching small places all over (normalised cross-correlation, between points by a
 * parabola) and the homography that fits most of them. A lamp that was moved does not matter: places are
 * matched by what is drawn there. Both have three bands. null where too few places are alike.
 */
export function alignShot(
  first: RgbPicture,
  other: RgbPicture,
  corners: readonly [Quad, Quad] | null,
): Alignment | null {
  const base = convertRgbToLuma(first);
  let map: Projective = corners
    ? composeProjective(invertProjective(mapSquareTo(corners[0])), mapSquareTo(corners[1]))
    : [1, 0, 0, 0, 1, 0, 0, 0, 1];
  map = composeProjective(map, [other.widthPx, 0, 0, 0, other.heightPx, 0, 0, 0, 1]);
  let result: Alignment | null = null;
  for (const reach of REACHES) {
    const found = matchPlaces(base, warp(other, map, base), reach);
    const kept = keepAgreeing(found);
    if (kept.length < LEAST_MATCHED) return null;
    const pairs = kept.map(({ from, to }) => ({
      from: toShares(from, base),
      to: applyProjective(map, toShares(to, base)),
    }));
    const next = fitProjective(pairs);
    if (!next) return null;
    map = next;
    const off = kept.map(({ from, to }) => Math.hypot(to.x - from.x, to.y - from.y));
    result = { map, offPx: findMedian(off), matched: kept.length };
  }
  return result;
}

const toShares = ({ x, y }: Point, size: SizePx): Point => ({ x: x / size.widthPx, y: y / size.heightPx });

/** A shot as it lies on another one of a size. */
function warp(other: RgbPicture, map: Projective, size: SizePx): LumaPicture {
  const rgb = renderPicture({
    source: { ...other, most: 255, levels: Uint8Array.from(other.bytes) },
    map,
    size,
    table: null,
  });
  return convertRgbToLuma({ ...size, bytes: rgb, bands: 3 });
}

interface Match {
  readonly from: Point;
  readonly to: Point;
}

/** Places of one picture, and where they lie in another that lies nearly as it does. */
function matchPlaces(base: LumaPicture, other: LumaPicture, reach: number): Match[] {
  const { widthPx: w, heightPx: h } = base;
  const rim = HALF + reach + 1;
  const found: Match[] = [];
  for (let row = 0; row < GRID.rows; row += 1)
    for (let column = 0; column < GRID.columns; column += 1) {
      const x = Math.round(rim + ((w - 1 - 2 * rim) * column) / (GRID.columns - 1));
      const y = Math.round(rim + ((h - 1 - 2 * rim) * row) / (GRID.rows - 1));
      const place = matchPlace(base, other, x, y, reach);
      if (place) found.push({ from: { x: x + 0.5, y: y + 0.5 }, to: { x: place.x + 0.5, y: place.y + 0.5 } });
    }
  return found;
}

function matchPlace(
  base: LumaPicture,
  other: LumaPicture,
  x: number,
  y: number,
  reach: number,
): Point | null {
  const own = readPlace(base, x, y);
  if (own.deviation < LEAST_DEVIATION) return null;
  const edge = 2 * reach + 1;
  const likeness = Float64Array.from({ length: edge * edge }, (_, at) =>
    compare(own, readPlace(other, x + (at % edge) - reach, y + Math.floor(at / edge) - reach)),
  );
  let best = 0;
  for (let at = 1; at < likeness.length; at += 1)
    if ((likeness[at] ?? -1) > (likeness[best] ?? -1)) best = at;
  const [dx, dy] = [best % edge, Math.floor(best / edge)];
  // At the rim the best may lie beyond.
  if ((likeness[best] ?? 0) < LEAST_LIKE || dx === 0 || dy === 0 || dx === edge - 1 || dy === edge - 1)
    return null;
  const peak = (step: number) => {
    const [before, here, after] = [
      likeness[best - step] ?? 0,
      likeness[best] ?? 0,
      likeness[best + step] ?? 0,
    ];
    const bend = before - 2 * here + after;
    return bend < -1e-9 ? (before - after) / (2 * bend) : 0;
  };
  return { x: x + dx - reach + peak(1), y: y + dy - reach + peak(edge) };
}

interface Place {
  readonly levels: Float64Array;
  readonly deviation: number;
}

/** A place without its mean brightness. */
function readPlace({ widthPx: w, luma }: LumaPicture, x: number, y: number): Place {
  const edge = 2 * HALF + 1;
  const levels = Float64Array.from(
    { length: edge * edge },
    (_, at) => luma[(y + Math.floor(at / edge) - HALF) * w + x + (at % edge) - HALF] ?? 0,
  );
  const mean = levels.reduce((sum, level) => sum + level, 0) / levels.length;
  let square = 0;
  for (let at = 0; at < levels.length; at += 1) {
    levels[at] = (levels[at] as number) - mean;
    square += (levels[at] as number) ** 2;
  }
  return { levels, deviation: Math.sqrt(square / levels.length) };
}

function compare(left: Place, right: Place): number {
  if (right.deviation < 1e-6) return 0;
  let sum = 0;
  for (let at = 0; at < left.levels.length; at += 1)
    sum += (left.levels[at] as number) * (right.levels[at] as number);
  return sum / (left.levels.length * left.deviation * right.deviation);
}

/** Matches whose shift is near what the others near the middle of all agree on. */
function keepAgreeing(matches: readonly Match[]): Match[] {
  let kept = [...matches];
  for (let round = 0; round < 4 && kept.length >= LEAST_MATCHED; round += 1) {
    const plane = fitShift(kept);
    if (!plane) return kept;
    const offs = kept.map((match) => plane(match));
    const most = Math.max(0.6, 3 * findMedian(offs));
    const next = kept.filter((_, index) => (offs[index] ?? 0) <= most);
    if (next.length === kept.length) break;
    kept = next;
  }
  return kept;
}

/** How far a match lies from a shift that changes evenly over the picture. */
function fitShift(matches: readonly Match[]): ((match: Match) => number) | null {
  const solve = (shiftOf: (match: Match) => number) =>
    solveLeastSquares(
      matches.map((match) => ({
        terms: [1, match.from.x / 1000, match.from.y / 1000],
        wanted: shiftOf(match),
      })),
      3,
    );
  const [across, down] = [solve(({ from, to }) => to.x - from.x), solve(({ from, to }) => to.y - from.y)];
  if (!across || !down) return null;
  const read = (factors: readonly number[], { x, y }: Point) =>
    (factors[0] ?? 0) + ((factors[1] ?? 0) * x) / 1000 + ((factors[2] ?? 0) * y) / 1000;
  return ({ from, to }) => Math.hypot(to.x - from.x - read(across, from), to.y - from.y - read(down, from));
}
