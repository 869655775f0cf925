import type { LumaPicture } from './rgb-picture.ts';

/** How clear the parts of a picture are, and what there is of grain and writing. */
export interface Detail {
  readonly columns: number;
  readonly rows: number;
  /**
   * Blur of the clearest edges in each part, row after row, as the deviation of a Gaussian in points of the
   * picture looked at; null where a part has no edges to tell by.
   */
  readonly blursPx: readonly (number | null)[];
  /** Standard deviation of the grain in its smoothest parts, 0 to 255. */
  readonly grain: number;
  /** Strokes of writing in it, in points of the picture looked at; null where none was seen. */
  readonly writing: { readonly strokePx: number; readonly heightPx: number } | null;
}

const COLUMNS = 12;
/** Edges fainter than this, per point, are shading or grain. */
const LEAST_SLOPE = 14;
const LEAST_EDGES = 10;
/** The clearest part of a tile's edges tells: the others may be soft by themselves. */
const CLEAREST = 0.4;
const MOST_BLUR = 6;
/** What a difference over two points adds by itself. */
const OWN_VARIANCE = 1 / 3;

/**
 * Sharpness in parts of a picture by how much its edges lose when it is blurred once more: an edge of
 * deviation s loses by √(s² + 1) / s under a Gaussian of deviation 1 (S. Zhuo and T. Sim, Defocus map
 * estimation from a single image, 2011). Grain by the quietest blocks' Laplacian (J. Immerkær, 1996).
 */
export function measureDetailMap(picture: LumaPicture): Detail {
  const { widthPx: w, heightPx: h } = picture;
  const rows = Math.max(1, Math.round((COLUMNS * h) / w));
  const grain = measureGrain(picture);
  const found: number[][] = Array.from({ length: COLUMNS * rows }, () => []);
  const own = Float32Array.from(picture.luma);
  const once = blurOnce(own, w, h);
  const least = Math.max(LEAST_SLOPE, 5 * grain);
  for (let y = 2; y < h - 2; y += 1)
    for (let x = 2; x < w - 2; x += 1) {
      const at = y * w + x;
      const slope = readSlope(own, at, w);
      if (slope < least) continue;
      // The middle of an edge: steeper than its neighbours across it.
      const isAcross = Math.abs(own[at + 1]! - own[at - 1]!) >= Math.abs(own[at + w]! - own[at - w]!);
      const step = isAcross ? 1 : w;
      if (readSlope(own, at - step, w) > slope || readSlope(own, at + step, w) >= slope) continue;
      const ratio = slope / Math.max(1e-6, readSlope(once, at, w));
      if (ratio <= 1) continue;
      const tile = Math.floor((y * rows) / h) * COLUMNS + Math.floor((x * COLUMNS) / w);
      const variance = 1 / (ratio * ratio - 1) - OWN_VARIANCE;
      found[tile]?.push(Math.min(MOST_BLUR, Math.sqrt(Math.max(0, variance))));
    }
  const blursPx = found.map((blurs) =>
    blurs.length < LEAST_EDGES
      ? null
      : (blurs.sort((left, right) => left - right)[Math.floor(blurs.length * CLEAREST)] ?? null),
  );
  return { columns: COLUMNS, rows, blursPx, grain, writing: findWriting(picture) };
}

function readSlope(levels: Float32Array, at: number, w: number): number {
  const across = (levels[at + 1] ?? 0) - (levels[at - 1] ?? 0);
  const down = (levels[at + w] ?? 0) - (levels[at - w] ?? 0);
  return Math.sqrt(across * across + down * down) / 2;
}

const REACH = 3;

/** A Gaussian of deviation 1, in seven points along each edge; beyond the border its points go on. */
function blurOnce(levels: Float32Array, w: number, h: number): Float32Array {
  const shares = Array.from({ length: 2 * REACH + 1 }, (_, tap) => Math.exp(-((tap - REACH) ** 2) / 2));
  const sum = shares.reduce((total, share) => total + share, 0);
  const weights = Float64Array.from(shares, (share) => share / sum);
  const wide = new Float32Array(levels.length);
  for (let start = 0; start < levels.length; start += w)
    for (let x = 0; x < w; x += 1) {
      let total = 0;
      for (let tap = -REACH; tap <= REACH; tap += 1) {
        const read = x + tap;
        const held = read < 0 ? 0 : read >= w ? w - 1 : read;
        total += (weights[tap + REACH] as number) * (levels[start + held] as number);
      }
      wide[start + x] = total;
    }
  const made = new Float32Array(levels.length);
  for (let y = 0; y < h; y += 1)
    for (let tap = -REACH; tap <= REACH; tap += 1) {
      const weight = weights[tap + REACH] as number;
      const [to, at] = [y * w, Math.max(0, Math.min(h - 1, y + tap)) * w];
      for (let x = 0; x < w; x += 1)
        made[to + x] = (made[to + x] as number) + weight * (wide[at + x] as number);
    }
  return made;
}

const BLOCK = 16;

function measureGrain({ widthPx: w, heightPx: h, luma }: LumaPicture): number {
  const found: number[] = [];
  for (let top = 1; top + BLOCK < h; top += BLOCK)
    for (let left = 1; left + BLOCK < w; left += BLOCK) {
      let [sum, mean] = [0, 0];
      for (let y = top; y < top + BLOCK; y += 1)
        for (let x = left; x < left + BLOCK; x += 1) {
          const at = y * w + x;
          const read = (place: number) => luma[place] ?? 0;
          mean += read(at);
          sum += Math.abs(
            read(at - w - 1) -
              2 * read(at - w) +
              read(at - w + 1) -
              2 * read(at - 1) +
              4 * read(at) -
              2 * read(at + 1) +
              read(at + w - 1) -
              2 * read(at + w) +
              read(at + w + 1),
          );
        }
      mean /= BLOCK * BLOCK;
      // What is cut off at black or white has no grain left to tell.
      if (mean > 12 && mean < 243) found.push((Math.sqrt(Math.PI / 2) * sum) / (6 * BLOCK * BLOCK));
    }
  return found.sort((left, right) => left - right)[Math.floor(found.length * 0.2)] ?? 0;
}

/** Half the edge of the area whose mean a point is held against. */
const AREA = 12;
const DARKER = 22;
const LEAST_LETTERS = 30;

interface Blob {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
  readonly area: number;
  readonly rim: number;
}

/** Writing: many small dark marks of about one height, side by side. */
function findWriting(picture: LumaPicture): Detail['writing'] {
  const blobs = findBlobs(picture).filter(({ left, right, top, bottom, area }) => {
    const [width, height] = [right - left + 1, bottom - top + 1];
    const fill = area / (width * height);
    return height >= 5 && height <= 60 && width >= 2 && width <= 4 * height && fill > 0.12 && fill < 0.85;
  });
  if (blobs.length < LEAST_LETTERS) return null;
  const heights = blobs.map(({ top, bottom }) => bottom - top + 1).sort((left, right) => left - right);
  const middle = heights[Math.floor(heights.length / 2)] ?? 0;
  const letters = blobs.filter(({ top, bottom }) => {
    const height = bottom - top + 1;
    return height >= middle * 0.6 && height <= middle * 1.7;
  });
  const inLine = letters.filter((own) =>
    letters.some(
      (other) =>
        other !== own &&
        other.left - own.right < 1.5 * middle &&
        other.left > own.right - 1 &&
        Math.min(own.bottom, other.bottom) - Math.max(own.top, other.top) > middle * 0.5,
    ),
  );
  if (letters.length < LEAST_LETTERS || inLine.length < letters.length * 0.6) return null;
  // A stroke has a rim on both sides; what the rim itself takes belongs to it.
  const strokes = inLine.map(({ area, rim }) => (2 * area) / Math.max(1, rim)).sort((a, b) => a - b);
  return { strokePx: strokes[Math.floor(strokes.length / 2)] ?? 0, heightPx: middle };
}

function findBlobs({ widthPx: w, heightPx: h, luma }: LumaPicture): Blob[] {
  const sums = new Float64Array((w + 1) * (h + 1));
  for (let y = 0; y < h; y += 1)
    for (let x = 0; x < w; x += 1)
      sums[(y + 1) * (w + 1) + x + 1] =
        (luma[y * w + x] as number) +
        (sums[y * (w + 1) + x + 1] as number) +
        (sums[(y + 1) * (w + 1) + x] as number) -
        (sums[y * (w + 1) + x] as number);
  const isDark = new Uint8Array(w * h);
  for (let y = 0; y < h; y += 1) {
    const [top, bottom] = [Math.max(0, y - AREA), Math.min(h, y + AREA + 1)];
    for (let x = 0; x < w; x += 1) {
      const [left, right] = [Math.max(0, x - AREA), Math.min(w, x + AREA + 1)];
      const total =
        (sums[bottom * (w + 1) + right] as number) -
        (sums[top * (w + 1) + right] as number) -
        (sums[bottom * (w + 1) + left] as number) +
        (sums[top * (w + 1) + left] as number);
      const mean = total / ((bottom - top) * (right - left));
      if ((luma[y * w + x] as number) < mean - DARKER) isDark[y * w + x] = 1;
    }
  }
  return collectBlobs(isDark, w, h);
}

function collectBlobs(isDark: Uint8Array, w: number, h: number): Blob[] {
  const blobs: Blob[] = [];
  const stack: number[] = [];
  for (let start = 0; start < isDark.length; start += 1) {
    if (isDark[start] !== 1) continue;
    let [left, right, top, bottom, area, rim] = [w, 0, h, 0, 0, 0];
    isDark[start] = 2;
    stack.push(start);
    for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
      const [x, y] = [at % w, Math.floor(at / w)];
      [left, right] = [Math.min(left, x), Math.max(right, x)];
      [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
      area += 1;
      const beside = [x > 0 ? at - 1 : -1, x < w - 1 ? at + 1 : -1, at - w, at + w];
      for (const next of beside) {
        const state = next < 0 || next >= isDark.length ? 0 : isDark[next];
        if (state === 0) rim += 1;
        if (state !== 1) continue;
        isDark[next] = 2;
        stack.push(next);
      }
    }
    blobs.push({ left, right, top, bottom, area, rim });
  }
  return blobs;
}
