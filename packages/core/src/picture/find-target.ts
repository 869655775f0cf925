import { fitTarget, type TargetFit } from '../color/fit-target.ts';
import { readLight } from '../color/lab.ts';
import { PATCH_COLUMNS, PATCH_ROWS, USUAL_PATCHES, type LabTriple } from '../color/patches-24.ts';
import type { Triple } from '../color/spaces.ts';
import { fitProjective } from '../geometry/least-squares.ts';
import {
  applyProjective,
  invertProjective,
  mapSquareTo,
  type Point,
  type Quad,
} from '../geometry/projective.ts';
import { buildGains, type EvenLight } from '../light/even-light.ts';
import type { RgbPicture } from './rgb-picture.ts';

export interface FoundTarget {
  /** Outer corners of the field of patches, that of the first patch first, in shares of the picture. */
  readonly corners: Quad;
  /** Linear light of each patch (`readTarget`). */
  readonly patches: readonly (Triple | null)[];
  readonly fit: TargetFit;
}

/** Levels by which neighbors inside of one patch differ at the most, after a little blur. */
const SMOOTH = 9;
/** Shares of the picture that a patch has. */
const PATCH_AREA = [0.00025, 0.03] as const;
const LEAST_FILL = 0.6;
const SLIM = 0.45;
const ALIKE = 2.4;
/** Patches that have to be seen before the others are taken to lie between them. */
const LEAST_SEEN = 14;
/** A target has 24, and a few things beside it may lie on its grid; tiles and mosaics have more. */
const MOST_SEEN = 40;
/** So many patches are looked at, the largest first. */
const MOST_PATCHES = 300;
/** How far from its place on the grid a patch may lie, in steps of it. */
const STRAY = 0.3;
/** What is so far off after all is no target. */
const MOST_MEAN = 5;
const MOST_FORETOLD = 7;
/** The middle of each patch that is read. */
const READ_SHARE = 0.4;
const READ_STEPS = 5;
const CLIPPED = 253;

/** Finds a target of 24 patches in a picture, whichever way round it lies; null where there is none. */
export function findTarget(
  picture: RgbPicture,
  reference: readonly LabTriple[] = USUAL_PATCHES,
): FoundTarget | null {
  const patches = listSmoothPatches(picture).slice(0, MOST_PATCHES);
  const tried = new Set<Patch>();
  for (const seed of patches) {
    if (tried.has(seed)) continue;
    const alike = patches.filter(({ area }) => Math.max(area / seed.area, seed.area / area) <= ALIKE);
    if (alike.length < LEAST_SEEN) continue;
    const grid = layGrid(seed, alike);
    // What lies on one grid is one pattern, whichever of its patches it was begun from.
    for (const { patch } of grid) tried.add(patch);
    const quad = grid.length >= LEAST_SEEN && grid.length <= MOST_SEEN ? fitGrid(grid) : null;
    const found = quad && chooseWayRound(picture, quad, reference);
    if (found) return found;
  }
  return null;
}

/** Light in the middle of each patch, row after row; null where a side is cut off or it is no one color. */
export function readTarget(picture: RgbPicture, corners: Quad): (Triple | null)[] {
  const map = mapSquareTo(corners);
  return Array.from({ length: PATCH_COLUMNS * PATCH_ROWS }, (_, patch) => {
    const [column, row] = [patch % PATCH_COLUMNS, Math.floor(patch / PATCH_COLUMNS)];
    const seen: Triple[] = [];
    for (let y = 0; y < READ_STEPS; y += 1)
      for (let x = 0; x < READ_STEPS; x += 1) {
        const off = (step: number) => 0.5 + READ_SHARE * (step / (READ_STEPS - 1) - 0.5);
        const place = { x: (column + off(x)) / PATCH_COLUMNS, y: (row + off(y)) / PATCH_ROWS };
        const light = readPoint(picture, applyProjective(map, place));
        if (!light) return null;
        seen.push(light);
      }
    return averageEven(seen);
  });
}

/** Patches with the light of their photograph evened out. */
export function evenPatches(
  patches: readonly (Triple | null)[],
  corners: Quad,
  light: EvenLight | null,
): (Triple | null)[] {
  if (!light) return [...patches];
  const toPhoto = mapSquareTo(corners);
  const gainAt = buildGains(light, (place) => applyProjective(toPhoto, place));
  return patches.map((patch, index) => {
    if (!patch) return null;
    const [column, row] = [index % PATCH_COLUMNS, Math.floor(index / PATCH_COLUMNS)];
    const place = { x: (column + 0.5) / PATCH_COLUMNS, y: (row + 0.5) / PATCH_ROWS };
    const gains = gainAt(place);
    return patch.map((side, at) => Math.min(1, side * gains[at as 0])) as unknown as Triple;
  });
}

/** The mean of points of one color; null where they are of several. */
function averageEven(seen: readonly Triple[]): Triple | null {
  const mean = [0, 1, 2].map(
    (side) => seen.reduce((sum, light) => sum + light[side as 0], 0) / seen.length,
  ) as unknown as Triple;
  const spread = Math.sqrt(
    seen.reduce((sum, light) => sum + (light[1] - mean[1]) ** 2, 0) / Math.max(1, seen.length),
  );
  return spread > 0.02 + 0.2 * mean[1] ? null : mean;
}

function readPoint({ widthPx, heightPx, bytes, bands }: RgbPicture, { x, y }: Point): Triple | null {
  const [px, py] = [Math.floor(x * widthPx), Math.floor(y * heightPx)];
  if (!(px >= 0) || !(py >= 0) || px >= widthPx || py >= heightPx) return null;
  const at = (py * widthPx + px) * bands;
  const levels = [bytes[at] as number, bytes[at + 1] as number, bytes[at + 2] as number];
  return Math.max(...levels) >= CLIPPED ? null : (levels.map(readLight) as unknown as Triple);
}

interface Patch extends Point {
  readonly area: number;
}

/** Areas of one color each, about as large as patches are; places in points. */
function listSmoothPatches(picture: RgbPicture): Patch[] {
  const { widthPx: w, heightPx: h } = picture;
  const levels = blur(picture);
  const size = w * h;
  const isNear = (one: number, other: number) =>
    Math.abs((levels[one * 3] as number) - (levels[other * 3] as number)) <= SMOOTH &&
    Math.abs((levels[one * 3 + 1] as number) - (levels[other * 3 + 1] as number)) <= SMOOTH &&
    Math.abs((levels[one * 3 + 2] as number) - (levels[other * 3 + 2] as number)) <= SMOOTH;
  // A point two steps on tells an edge sooner than a neighbor does.
  const isSmooth = new Uint8Array(size);
  for (let y = 1; y + 1 < h; y += 1)
    for (let x = 1; x + 1 < w; x += 1) {
      const at = y * w + x;
      if (isNear(at - 1, at + 1) && isNear(at - w, at + w)) isSmooth[at] = 1;
    }
  const found: Patch[] = [];
  const stack: number[] = [];
  for (let start = 0; start < size; start += 1) {
    if (!isSmooth[start]) continue;
    isSmooth[start] = 0;
    stack.push(start);
    let [count, sumX, sumY, x0, x1, y0, y1] = [0, 0, 0, w, 0, h, 0];
    for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
      const [x, y] = [at % w, Math.floor(at / w)];
      count += 1;
      sumX += x;
      sumY += y;
      [x0, x1, y0, y1] = [Math.min(x0, x), Math.max(x1, x), Math.min(y0, y), Math.max(y1, y)];
      for (const next of [at - 1, at + 1, at - w, at + w])
        if (isSmooth[next] && isNear(at, next)) {
          isSmooth[next] = 0;
          stack.push(next);
        }
    }
    const [across, down] = [x1 - x0 + 1, y1 - y0 + 1];
    const isPatch =
      count >= PATCH_AREA[0] * size &&
      count <= PATCH_AREA[1] * size &&
      count >= LEAST_FILL * across * down &&
      Math.min(across, down) >= SLIM * Math.max(across, down);
    if (isPatch) found.push({ x: sumX / count + 0.5, y: sumY / count + 0.5, area: count });
  }
  return found.sort((left, right) => right.area - left.area);
}

/** Means of nine points: grain is no edge. */
function blur({ widthPx: w, heightPx: h, bytes, bands }: RgbPicture): Float32Array {
  const made = new Float32Array(w * h * 3);
  for (let y = 1; y + 1 < h; y += 1)
    for (let x = 1; x + 1 < w; x += 1)
      for (let side = 0; side < 3; side += 1) {
        let sum = 0;
        for (let row = -1; row <= 1; row += 1)
          for (let column = -1; column <= 1; column += 1)
            sum += bytes[((y + row) * w + x + column) * bands + side] as number;
        made[(y * w + x) * 3 + side] = sum / 9;
      }
  return made;
}

interface Placed extends Point {
  readonly patch: Patch;
  readonly i: number;
  readonly j: number;
}

/** Numbers patches by their column and row about a seed, stepping from each to its neighbors. */
function layGrid(seed: Patch, patches: readonly Patch[]): Placed[] {
  const start: Placed = { x: seed.x, y: seed.y, patch: seed, i: 0, j: 0 };
  const others = patches
    .filter((each) => each !== seed)
    .map((each) => ({ dx: each.x - seed.x, dy: each.y - seed.y }))
    .sort((left, right) => left.dx ** 2 + left.dy ** 2 - right.dx ** 2 - right.dy ** 2);
  const first = others[0];
  if (!first) return [start];
  const reach = Math.sqrt(first.dx ** 2 + first.dy ** 2);
  // The second direction stands about square to the first one.
  const second = others.find(({ dx, dy }) => {
    const far = Math.sqrt(dx * dx + dy * dy);
    return far < 1.8 * reach && Math.abs(dx * first.dx + dy * first.dy) < 0.4 * far * reach;
  });
  if (!second) return [start];
  const placed = new Map<string, Placed>([['0,0', start]]);
  const left = new Set(patches.filter((each) => each !== seed));
  const queue: { at: Placed; u: typeof first; v: typeof first }[] = [{ at: start, u: first, v: second }];
  for (let next = queue.shift(); next; next = queue.shift()) {
    const { at, u, v } = next;
    const steps = [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const;
    for (const [di, dj] of steps) {
      const key = `${at.i + di},${at.j + dj}`;
      if (placed.has(key)) continue;
      const wanted = { x: at.x + di * u.dx + dj * v.dx, y: at.y + di * u.dy + dj * v.dy };
      const stray = STRAY * Math.sqrt(u.dx ** 2 + u.dy ** 2);
      const near = [...left].find((each) => (each.x - wanted.x) ** 2 + (each.y - wanted.y) ** 2 < stray ** 2);
      if (!near) continue;
      left.delete(near);
      const own = { x: near.x, y: near.y, patch: near, i: at.i + di, j: at.j + dj };
      placed.set(key, own);
      // Perspective changes steps from place to place.
      const step = { dx: (near.x - at.x) * (di + dj), dy: (near.y - at.y) * (di + dj) };
      queue.push({ at: own, u: di === 0 ? u : step, v: dj === 0 ? v : step });
    }
  }
  return [...placed.values()];
}

/** Corners of the six by four places that hold most of the patches; null where they hold too few. */
function fitGrid(placed: readonly Placed[]): Quad | null {
  let best: { inside: Placed[]; wide: number; high: number } | null = null;
  for (const [wide, high] of [
    [PATCH_COLUMNS, PATCH_ROWS],
    [PATCH_ROWS, PATCH_COLUMNS],
  ] as const)
    for (const from of placed)
      for (const above of placed) {
        const [i0, j0] = [from.i, above.j];
        const inside = placed.filter(({ i, j }) => i >= i0 && j >= j0 && i < i0 + wide && j < j0 + high);
        if (inside.length > (best?.inside.length ?? 0))
          best = {
            inside: inside.map((each) => ({ ...each, i: each.i - i0, j: each.j - j0 })),
            wide,
            high,
          };
      }
  if (!best || best.inside.length < LEAST_SEEN) return null;
  const map = fitProjective(
    best.inside.map(({ x, y, i, j }) => ({ from: { x: i + 0.5, y: j + 0.5 }, to: { x, y } })),
  );
  if (!map) return null;
  const { wide, high } = best;
  const corners = [
    { x: 0, y: 0 },
    { x: wide, y: 0 },
    { x: wide, y: high },
    { x: 0, y: high },
  ].map((corner) => applyProjective(map, corner));
  // Six along the first side, whichever way it lies.
  return (wide === PATCH_COLUMNS ? corners : [...corners.slice(1), corners[0]]) as unknown as Quad;
}

/** The target can lie either way round: the one whose colors come out right; null where neither does. */
function chooseWayRound(
  picture: RgbPicture,
  quad: Quad,
  reference: readonly LabTriple[],
): FoundTarget | null {
  const size = { x: picture.widthPx, y: picture.heightPx };
  const [a, b, c, d] = quad.map(({ x, y }) => ({ x: x / size.x, y: y / size.y })) as unknown as Quad;
  let best: FoundTarget | null = null;
  // Turned, and seen from behind: a mirrored photograph has a mirrored target.
  for (const corners of [
    [a, b, c, d],
    [c, d, a, b],
    [b, a, d, c],
    [d, c, b, a],
  ] as const) {
    if (!isInvertible(corners)) continue;
    const patches = readTarget(picture, corners);
    const fit = fitTarget(patches, reference);
    if (!fit || fit.meanAfter > MOST_MEAN || fit.foretold > MOST_FORETOLD) continue;
    if (!best || fit.foretold < best.fit.foretold) best = { corners, patches, fit };
  }
  return best;
}

function isInvertible(corners: Quad): boolean {
  try {
    invertProjective(mapSquareTo(corners));
    return true;
  } catch {
    return false;
  }
}
