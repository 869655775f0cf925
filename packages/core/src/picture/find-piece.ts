import { chooseLeastSlope, findLines, measureSlopes, type PictureLine, type Slopes } from './find-lines.ts';
import { measureBow } from './measure-bow.ts';
import { intersect, refineCorners, type Corners, type PointPx } from './refine-corners.ts';
import type { LumaPicture } from './rgb-picture.ts';

export type { Corners, PointPx };

export interface FoundPiece {
  readonly corners: Corners;
  /** 0 to 1: how well its four sides can be seen. */
  readonly confidence: number;
  /** Sides that lie at the border of the picture: the piece may go on beyond it. */
  readonly touches: readonly ('top' | 'right' | 'bottom' | 'left')[];
  /** How the lens bowed its sides (`bendPoint`); 0 where they are straight, or nobody could tell. */
  readonly lens: number;
}

/** Below it the answer is not worth showing. */
export const LEAST_CONFIDENCE = 0.45;
/** From here on corners are used unasked. */
export const SURE_CONFIDENCE = 0.6;
const MOST_LINES = 32;
/** A slope that counts as a clear edge (Sobel, 4 × levels a pixel). */
const CLEAR = 200;
/** A side has to cover at least so much of the picture's edge along it. */
const LEAST_SIDE = 0.18;
const LEAST_AREA = 0.06;
/** How well a border of the picture counts as a side: less than any side that is seen. */
const BORDER_SUPPORT = 0.22;
const SIDES = ['top', 'right', 'bottom', 'left'] as const;

interface Side {
  readonly line: PictureLine;
  /**
   * Edge points along it, from one end of the picture to the other, as running sums of both ways of
   * contrast.
   */
  readonly sums: { readonly lighter: Float32Array; readonly darker: Float32Array } | null;
}

/**
 * Finds the flat piece in a picture: the four-sided figure whose sides are best seen. Meant for pictures of
 * at most 640 pixels along the long edge, about 20 ms each. null where nothing four-sided stands out.
 */
export function findPiece(picture: LumaPicture): FoundPiece | null {
  const slopes = measureSlopes(picture);
  return findPieceBySlopes(slopes, findLines(slopes, MOST_LINES, chooseLeastSlope(slopes)));
}

/** The same where slopes and lines are known already. */
export function findPieceBySlopes(slopes: Slopes, lines: readonly PictureLine[]): FoundPiece | null {
  const { widthPx, heightPx } = slopes;
  const least = chooseLeastSlope(slopes) * 0.6;
  const sides = lines.map((line): Side => ({ line, sums: sumAlong(slopes, line, least) }));
  // The normal of a level line points down: its angle is near a quarter turn.
  const isLevel = ({ line }: Side) => Math.abs(line.angle - Math.PI / 2) < Math.PI / 4;
  const border = (angle: number, offset: number): Side => ({ line: { angle, offset, votes: 0 }, sums: null });
  const [middleX, middleY] = [widthPx / 2, heightPx / 2];
  const level = [...sides.filter(isLevel), border(Math.PI / 2, 0), border(Math.PI / 2, heightPx - 1)].sort(
    (left, right) => crossY(left.line, middleX) - crossY(right.line, middleX),
  );
  const plumb = [...sides.filter((side) => !isLevel(side)), border(0, 0), border(0, widthPx - 1)].sort(
    (left, right) => crossX(left.line, middleY) - crossX(right.line, middleY),
  );
  const crossings = level.map((across) => plumb.map((down) => intersect(across.line, down.line)));
  let best: { corners: Corners; sides: readonly Side[]; score: number; supports: number[] } | null = null;
  for (const [first, second] of listPairs(level.length))
    for (const [third, fourth] of listPairs(plumb.length)) {
      const corners = joinSides(crossings[first], crossings[second], third, fourth);
      if (!corners || !isReasonable(corners, widthPx, heightPx)) continue;
      const four = [level[first], plumb[fourth], level[second], plumb[third]] as const;
      const supports = four.map((side, index) =>
        side ? measureSupport(side, corners[index as 0], corners[((index + 1) % 4) as 0]) : 0,
      );
      if (supports.filter((support) => support === BORDER_SUPPORT).length > 2) continue;
      const score = scoreSides(supports) * measureArea(corners, widthPx, heightPx) ** 0.15;
      if (!best || score > best.score) best = { corners, sides: four as readonly Side[], score, supports };
    }
  if (!best) return null;
  const seen = best.sides.map(({ line, sums }) => sums && line);
  const refined = refineCorners(slopes, best.corners, seen);
  const bow = measureBow(slopes, refined, seen);
  const corners = bow?.corners ?? refined;
  const confidence = Math.max(0, Math.min(1, scoreSides(best.supports)));
  return { corners, confidence, touches: findTouched(corners, widthPx, heightPx), lens: bow?.factor ?? 0 };
}

/** Where a line crosses an upright through `x`, or a level one through `y`. */
const crossY = ({ angle, offset }: PictureLine, x: number) =>
  (offset - x * Math.cos(angle)) / Math.sin(angle);
const crossX = ({ angle, offset }: PictureLine, y: number) =>
  (offset - y * Math.sin(angle)) / Math.cos(angle);

/** Every two of so many, in their order. */
function listPairs(count: number): [number, number][] {
  const pairs: [number, number][] = [];
  for (let first = 0; first < count; first += 1)
    for (let second = first + 1; second < count; second += 1) pairs.push([first, second]);
  return pairs;
}

/** Sides count together; one that is not there cannot be made up for by the others. */
function scoreSides(supports: readonly number[]): number {
  const mean = supports.reduce((sum, each) => sum + each, 0) / supports.length;
  return 0.6 * mean + 0.4 * Math.min(...supports);
}

type Crossings = readonly (PointPx | null)[];

/** The corners where an upper and a lower side cross a left and a right one; null where they do not meet. */
function joinSides(
  upper: Crossings | undefined,
  lower: Crossings | undefined,
  left: number,
  right: number,
): Corners | null {
  const [a, b, c, d] = [upper?.[left], upper?.[right], lower?.[right], lower?.[left]];
  return a && b && c && d ? [a, b, c, d] : null;
}

/** Whether the corners stand in order, inside the picture, around enough of it, without a wild angle. */
function isReasonable(corners: Corners, widthPx: number, heightPx: number): boolean {
  const slack = 0.02 * Math.max(widthPx, heightPx);
  const isInside = corners.every(
    ({ x, y }) => x > -slack && y > -slack && x < widthPx - 1 + slack && y < heightPx - 1 + slack,
  );
  if (!isInside) return false;
  const [a, b, c, d] = corners;
  if (b.x - a.x < LEAST_SIDE * widthPx || c.x - d.x < LEAST_SIDE * widthPx) return false;
  if (d.y - a.y < LEAST_SIDE * heightPx || c.y - b.y < LEAST_SIDE * heightPx) return false;
  if (measureArea(corners, widthPx, heightPx) < LEAST_AREA) return false;
  const [ab, bc, cd, da] = [length(a, b), length(b, c), length(c, d), length(d, a)];
  if (Math.max(ab / cd, cd / ab) > 2.2 || Math.max(bc / da, da / bc) > 2.2) return false;
  return [0, 1, 2, 3].every((index) => isFairAngle(corners, index));
}

/** Whether a corner turns the right way and lies between 50 and 130 degrees. */
function isFairAngle(corners: Corners, index: number): boolean {
  const corner = corners[index as 0];
  const next = corners[((index + 1) % 4) as 0];
  const last = corners[((index + 3) % 4) as 0];
  const [ux, uy, vx, vy] = [next.x - corner.x, next.y - corner.y, last.x - corner.x, last.y - corner.y];
  if (ux * vy - uy * vx <= 0) return false;
  return (ux * vx + uy * vy) ** 2 < 0.64 ** 2 * (ux * ux + uy * uy) * (vx * vx + vy * vy);
}

const length = (from: PointPx, to: PointPx) => Math.sqrt((to.x - from.x) ** 2 + (to.y - from.y) ** 2);

/** Share of the picture that the corners enclose. */
export function measureArea(corners: Corners, widthPx: number, heightPx: number): number {
  const twice = corners.reduce((sum, { x, y }, index) => {
    const next = corners[((index + 1) % 4) as 0];
    return sum + x * next.y - next.x * y;
  }, 0);
  return Math.abs(twice) / 2 / (widthPx * heightPx);
}

/** Position along a line, whole pixels, counted so that both ends of the picture lie above 0. */
const stationOf = (line: PictureLine, point: PointPx, reach: number) =>
  Math.round(-point.x * Math.sin(line.angle) + point.y * Math.cos(line.angle)) + reach;

function sumAlong(
  slopes: Slopes,
  line: PictureLine,
  least: number,
): { lighter: Float32Array; darker: Float32Array } {
  const { widthPx, heightPx, alongX, alongY, crest } = slopes;
  const reach = Math.ceil(Math.hypot(widthPx, heightPx));
  const lighter = new Float32Array(2 * reach + 2);
  const darker = new Float32Array(2 * reach + 2);
  const [cosine, sine] = [Math.cos(line.angle), Math.sin(line.angle)];
  for (let station = 0; station <= 2 * reach; station += 1) {
    const along = station - reach;
    let [isLighter, isDarker] = [0, 0];
    for (let off = -2; off <= 2; off += 1) {
      const x = Math.round((line.offset + off) * cosine - along * sine);
      const y = Math.round((line.offset + off) * sine + along * cosine);
      if (x < 2 || y < 2 || x >= widthPx - 2 || y >= heightPx - 2) continue;
      const at = y * widthPx + x;
      const size = crest[at] ?? 0;
      if (size < least) continue;
      const across = ((alongX[at] ?? 0) * cosine + (alongY[at] ?? 0) * sine) / size;
      // A faint edge counts for half, so that a clear one wins where both could be the side.
      const weight = 0.5 + 0.5 * Math.min(1, size / CLEAR);
      if (across > 0.9) isLighter = Math.max(isLighter, weight);
      else if (across < -0.9) isDarker = Math.max(isDarker, weight);
    }
    lighter[station + 1] = (lighter[station] ?? 0) + isLighter;
    darker[station + 1] = (darker[station] ?? 0) + isDarker;
  }
  return { lighter, darker };
}

/**
 * Share of a side along which an edge is seen. One way of contrast counts whole, the other half; an edge that
 * runs on beyond both ends is a line of the room rather than a side.
 */
function measureSupport({ line, sums }: Side, from: PointPx, to: PointPx): number {
  if (!sums) return BORDER_SUPPORT;
  const reach = sums.lighter.length / 2 - 1;
  const [a, b] = [stationOf(line, from, reach), stationOf(line, to, reach)];
  const [start, finish] = [Math.max(0, Math.min(a, b)), Math.min(2 * reach, Math.max(a, b))];
  const span = Math.max(1, finish - start);
  const lighter = countAlong(sums.lighter, start, finish) / span;
  const darker = countAlong(sums.darker, start, finish) / span;
  const inside = Math.min(1, Math.max(lighter, darker) + 0.5 * Math.min(lighter, darker));
  const beyond = Math.max(1, Math.round(span * 0.12));
  const before = countEither(sums, start - beyond - 3, start - 3) / beyond;
  const after = countEither(sums, finish + 3, finish + beyond + 3) / beyond;
  return inside * (1 - 0.12 * (Math.min(before, 1) + Math.min(after, 1)));
}

/** Edge points between two stations, by their running sum. */
const countAlong = (sum: Float32Array, low: number, high: number) =>
  (sum[Math.min(sum.length - 1, Math.max(0, high))] ?? 0) - (sum[Math.max(0, low)] ?? 0);
const countEither = ({ lighter, darker }: NonNullable<Side['sums']>, low: number, high: number) =>
  Math.max(countAlong(lighter, low, high), countAlong(darker, low, high));

function findTouched(corners: Corners, widthPx: number, heightPx: number): FoundPiece['touches'] {
  const near = 0.012 * Math.max(widthPx, heightPx);
  const isAt: readonly ((point: PointPx) => boolean)[] = [
    ({ y }) => y < near,
    ({ x }) => x > widthPx - 1 - near,
    ({ y }) => y > heightPx - 1 - near,
    ({ x }) => x < near,
  ];
  return SIDES.filter((_, index) => corners.some((corner) => isAt[index]?.(corner)));
}
