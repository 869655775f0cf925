import { fitRobustly } from '../geometry/least-squares.ts';
import type { PictureLine, Slopes } from './find-lines.ts';

export interface PointPx {
  readonly x: number;
  readonly y: number;
}

/**
 * Corners in the order top left, top right, bottom right, bottom left, in pixels of the picture; centers of
 * pixels are whole numbers.
 */
export type Corners = readonly [PointPx, PointPx, PointPx, PointPx];

export function intersect(left: PictureLine, right: PictureLine): PointPx | null {
  const [c1, s1, c2, s2] = [
    Math.cos(left.angle),
    Math.sin(left.angle),
    Math.cos(right.angle),
    Math.sin(right.angle),
  ];
  const turn = c1 * s2 - s1 * c2;
  if (Math.abs(turn) < 0.3) return null;
  return {
    x: (left.offset * s2 - right.offset * s1) / turn,
    y: (right.offset * c1 - left.offset * c2) / turn,
  };
}

const distance = (from: PointPx, to: PointPx) => Math.sqrt((to.x - from.x) ** 2 + (to.y - from.y) ** 2);

/**
 * Moves each side to where brightness changes most, found between pixels at many places along it, and lets
 * the sides meet again. Sides from the first corner to the second, and so on round; null stays as it is, on
 * the border of the picture.
 */
export function refineCorners(
  slopes: Slopes,
  corners: Corners,
  sides: readonly (PictureLine | null)[],
): Corners {
  const lines = corners.map((from, index) => {
    const to = corners[((index + 1) % 4) as 0];
    const line = sides[index];
    return line ? (fitLine(listEdgePlaces(slopes, from, to, line), line) ?? line) : layLine(from, to);
  });
  const [top, right, bottom, left] = lines as [PictureLine, PictureLine, PictureLine, PictureLine];
  const refined = [
    intersect(top, left),
    intersect(top, right),
    intersect(bottom, right),
    intersect(bottom, left),
  ];
  return refined.map((point, index) => {
    const before = corners[index as 0];
    return point && distance(point, before) < 12 ? point : before;
  }) as unknown as Corners;
}

/** The line through two points. */
export function layLine(from: PointPx, to: PointPx): PictureLine {
  const angle = Math.atan2(to.x - from.x, from.y - to.y);
  return { angle, offset: from.x * Math.cos(angle) + from.y * Math.sin(angle), votes: 0 };
}

export interface EdgePlace {
  readonly along: number;
  readonly off: number;
}

const PLACES = 60;
const ACROSS = 4;

/** Where brightness changes most across a side, at places along it: how far along it, and off its line. */
export function listEdgePlaces(slopes: Slopes, from: PointPx, to: PointPx, line: PictureLine): EdgePlace[] {
  const [cosine, sine] = [Math.cos(line.angle), Math.sin(line.angle)];
  const places: EdgePlace[] = [];
  for (let place = 0; place < PLACES; place += 1) {
    const share = 0.04 + (0.92 * place) / (PLACES - 1);
    const middle = { x: from.x + (to.x - from.x) * share, y: from.y + (to.y - from.y) * share };
    const profile: number[] = [];
    for (let off = -ACROSS - 1; off <= ACROSS + 1; off += 1)
      profile.push(
        Math.abs(readAcross(slopes, middle.x + off * cosine, middle.y + off * sine, cosine, sine)),
      );
    let peak = 1;
    for (let index = 1; index < profile.length - 1; index += 1)
      if ((profile[index] ?? 0) > (profile[peak] ?? 0)) peak = index;
    const [before, here, after] = [profile[peak - 1] ?? 0, profile[peak] ?? 0, profile[peak + 1] ?? 0];
    if (here < 8 || here < before || here < after) continue;
    const bend = before - 2 * here + after;
    const shift = bend === 0 ? 0 : (0.5 * (before - after)) / bend;
    places.push({
      along: -middle.x * sine + middle.y * cosine,
      off: middle.x * cosine + middle.y * sine + (peak - ACROSS - 1 + shift),
    });
  }
  return places;
}

/** Slope along the normal, between pixels. */
function readAcross(slopes: Slopes, x: number, y: number, cosine: number, sine: number): number {
  const { widthPx, heightPx, alongX, alongY } = slopes;
  const [left, top] = [Math.floor(x), Math.floor(y)];
  if (left < 1 || top < 1 || left >= widthPx - 2 || top >= heightPx - 2) return 0;
  const [u, v] = [x - left, y - top];
  const at = top * widthPx + left;
  const mix = (of: Float32Array) =>
    (1 - v) * ((1 - u) * (of[at] ?? 0) + u * (of[at + 1] ?? 0)) +
    v * ((1 - u) * (of[at + widthPx] ?? 0) + u * (of[at + widthPx + 1] ?? 0));
  return mix(alongX) * cosine + mix(alongY) * sine;
}

/** Less is what steps of eight bits make of an edge, in points. */
const LEAST_DEVIATION = 0.085;
const LEAST_PLACES = 12;
/** So many of them have to agree. */
const LEAST_WEIGHT = 6;

/** A line through most of the places. */
export function fitLine(places: readonly EdgePlace[], line: PictureLine): PictureLine | null {
  if (places.length < LEAST_PLACES) return null;
  const equations = places.map(({ along, off }) => ({ terms: [1, along], wanted: off }));
  const found = fitRobustly(equations, 2, LEAST_DEVIATION);
  if (!found || found.weights.reduce((sum, weight) => sum + weight, 0) < LEAST_WEIGHT) return null;
  const [base, slope] = found.factors as [number, number];
  // off = base + slope · along, turned back into a normal and its offset.
  const turn = Math.atan(slope);
  return { angle: line.angle - turn, offset: base * Math.cos(turn), votes: line.votes };
}
