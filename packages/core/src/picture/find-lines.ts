import type { LumaPicture } from './rgb-picture.ts';

/**
 * A straight line: points with x·cos + y·sin = `offset`, in pixels; `angle` of its normal in radians, 0 to π.
 */
export interface PictureLine {
  readonly angle: number;
  readonly offset: number;
  /** Sum of the edge points that lie on it, each at most 240. */
  readonly votes: number;
}

/** Slopes of a picture: how much brightness changes at each point, and which way. */
export interface Slopes {
  readonly widthPx: number;
  readonly heightPx: number;
  /** Along x and along y, 4 × levels a pixel (Sobel). */
  readonly alongX: Float32Array;
  readonly alongY: Float32Array;
  /** Size of the slope where it is the greatest across its edge, 0 elsewhere. */
  readonly crest: Float32Array;
}

/** Slopes count no further than this: a bright edge is no more an edge than a plain one. */
const STRONG = 240;
const ANGLES = 180;
/** An edge point votes for directions this close to its own, in degrees. */
const SPREAD = 2;

export function measureSlopes({ widthPx, heightPx, luma }: LumaPicture): Slopes {
  const smooth = smoothLuma(luma, widthPx, heightPx);
  const alongX = new Float32Array(widthPx * heightPx);
  const alongY = new Float32Array(widthPx * heightPx);
  const size = new Float32Array(widthPx * heightPx);
  for (let y = 1; y < heightPx - 1; y += 1)
    for (let at = y * widthPx + 1; at < (y + 1) * widthPx - 1; at += 1) {
      const [up, down] = [at - widthPx, at + widthPx];
      const nw = smooth[up - 1] ?? 0;
      const ne = smooth[up + 1] ?? 0;
      const sw = smooth[down - 1] ?? 0;
      const se = smooth[down + 1] ?? 0;
      const dx = ne + 2 * (smooth[at + 1] ?? 0) + se - nw - 2 * (smooth[at - 1] ?? 0) - sw;
      const dy = sw + 2 * (smooth[down] ?? 0) + se - nw - 2 * (smooth[up] ?? 0) - ne;
      alongX[at] = dx;
      alongY[at] = dy;
      size[at] = Math.sqrt(dx * dx + dy * dy);
    }
  return { widthPx, heightPx, alongX, alongY, crest: thinEdges(size, alongX, alongY, widthPx, heightPx) };
}

/** Binomial 3×3, so that single noisy points make no edge. */
function smoothLuma(luma: Uint8Array, widthPx: number, heightPx: number): Float32Array {
  const rows = new Float32Array(luma.length);
  const smooth = new Float32Array(luma.length);
  const last = widthPx - 1;
  for (let start = 0; start < luma.length; start += widthPx) {
    let [before, here] = [luma[start] ?? 0, luma[start] ?? 0];
    for (let x = 0; x < widthPx; x += 1) {
      const after = x < last ? (luma[start + x + 1] ?? 0) : here;
      rows[start + x] = (before + 2 * here + after) / 4;
      before = here;
      here = after;
    }
  }
  for (let y = 0; y < heightPx; y += 1) {
    const start = y * widthPx;
    const up = y > 0 ? start - widthPx : start;
    const down = y < heightPx - 1 ? start + widthPx : start;
    for (let x = 0; x < widthPx; x += 1)
      smooth[start + x] = ((rows[up + x] ?? 0) + 2 * (rows[start + x] ?? 0) + (rows[down + x] ?? 0)) / 4;
  }
  return smooth;
}

/** Keeps a point only where no neighbour across the edge is steeper (J. Canny, 1986). */
function thinEdges(
  size: Float32Array,
  alongX: Float32Array,
  alongY: Float32Array,
  widthPx: number,
  heightPx: number,
): Float32Array {
  const crest = new Float32Array(size.length);
  for (let y = 2; y < heightPx - 2; y += 1)
    for (let at = y * widthPx + 2; at < (y + 1) * widthPx - 2; at += 1) {
      const here = size[at] ?? 0;
      if (here < 6) continue;
      const [dx, dy] = [alongX[at] ?? 0, alongY[at] ?? 0];
      const [ax, ay] = [Math.abs(dx), Math.abs(dy)];
      const sx = ax * 2.414 < ay ? 0 : dx < 0 ? -1 : 1;
      const sy = ay * 2.414 < ax ? 0 : dy < 0 ? -1 : 1;
      const step = sy * widthPx + sx;
      if (here >= (size[at + step] ?? 0) && here > (size[at - step] ?? 0)) crest[at] = here;
    }
  return crest;
}

/** The slope below which nineteen in twenty points lie, and never so low that noise makes lines. */
export function chooseLeastSlope({ crest }: Slopes): number {
  const counts = new Uint32Array(256);
  for (let at = 0; at < crest.length; at += 1) {
    const bin = Math.min(255, (crest[at] ?? 0) >> 2);
    counts[bin] = (counts[bin] ?? 0) + 1;
  }
  let left = crest.length * 0.05;
  for (let bin = 255; bin > 3; bin -= 1) {
    left -= counts[bin] ?? 0;
    if (left < 0) return bin * 4;
  }
  return 14;
}

/**
 * The strongest straight lines of a picture, strongest first (Hough transform, R. Duda and P. Hart, 1972;
 * each point votes only about the direction of its own slope).
 */
export function findLines(slopes: Slopes, most: number, leastSlope: number): PictureLine[] {
  const { widthPx, heightPx, alongX, alongY, crest } = slopes;
  const reach = Math.ceil(Math.hypot(widthPx, heightPx));
  const bins = 2 * reach + 1;
  const votes = new Float32Array(ANGLES * bins);
  const cosines = Array.from({ length: ANGLES }, (_, index) => Math.cos((index * Math.PI) / ANGLES));
  const sines = Array.from({ length: ANGLES }, (_, index) => Math.sin((index * Math.PI) / ANGLES));
  for (let y = 2; y < heightPx - 2; y += 1)
    for (let x = 2; x < widthPx - 2; x += 1) {
      const at = y * widthPx + x;
      const slope = crest[at] ?? 0;
      if (slope < leastSlope) continue;
      const own = Math.round((Math.atan2(alongY[at] ?? 0, alongX[at] ?? 0) * ANGLES) / Math.PI);
      const weight = Math.min(slope, STRONG);
      for (let turn = -SPREAD; turn <= SPREAD; turn += 1) {
        const index = (own + turn + 2 * ANGLES) % ANGLES;
        const offset = Math.round(x * (cosines[index] ?? 0) + y * (sines[index] ?? 0)) + reach;
        const bin = index * bins + offset;
        votes[bin] = (votes[bin] ?? 0) + weight;
      }
    }
  return pickPeaks(votes, bins, reach, most);
}

function pickPeaks(votes: Float32Array, bins: number, reach: number, most: number): PictureLine[] {
  const lines: PictureLine[] = [];
  const [nearAngle, nearOffset] = [4, 6];
  const candidates: { index: number; bin: number; value: number }[] = [];
  for (let index = 0; index < ANGLES; index += 1)
    for (let bin = 1; bin < bins - 1; bin += 1) {
      const at = index * bins + bin;
      if ((votes[at] ?? 0) < STRONG / 2) continue;
      const value = sumThree(votes, at);
      if (value >= sumThree(votes, at - 1) && value > sumThree(votes, at + 1))
        candidates.push({ index, bin, value });
    }
  candidates.sort((left, right) => right.value - left.value);
  const taken: typeof candidates = [];
  for (const each of candidates) {
    if (taken.length >= most) break;
    const isNear = taken.some((other) => {
      const turn = Math.abs(other.index - each.index);
      const isWrapped = turn > ANGLES / 2;
      const offset = isWrapped ? 2 * reach - other.bin : other.bin;
      return Math.min(turn, ANGLES - turn) <= nearAngle && Math.abs(offset - each.bin) <= nearOffset;
    });
    if (!isNear) taken.push(each);
  }
  for (const { index, bin, value } of taken)
    lines.push({ angle: (index * Math.PI) / ANGLES, offset: bin - reach, votes: value });
  return lines;
}

/** Three neighbours of the offset together: a line hardly ever falls into one bin. */
const sumThree = (votes: Float32Array, at: number) =>
  (votes[at - 1] ?? 0) + (votes[at] ?? 0) + (votes[at + 1] ?? 0);

/**
 * How far a picture leans, in degrees, clockwise positive, by its lines that are nearly level or plumb. null
 * where too few speak.
 */
export function measureTilt(lines: readonly PictureLine[]): number | null {
  const leans = lines
    .map(({ angle, votes }) => ({ lean: fold((angle * 180) / Math.PI), votes }))
    .filter(({ lean }) => Math.abs(lean) <= 20);
  const all = leans.reduce((sum, each) => sum + each.votes, 0);
  if (leans.length < 2 || all < 9000) return null;
  const sorted = leans.sort((left, right) => left.lean - right.lean);
  let seen = 0;
  const middle = sorted.find(({ votes }) => (seen += votes) >= all / 2)?.lean ?? 0;
  const agreeing = sorted.filter(({ lean }) => Math.abs(lean - middle) <= 3);
  const weight = agreeing.reduce((sum, each) => sum + each.votes, 0);
  if (weight < all * 0.5) return null;
  return agreeing.reduce((sum, each) => sum + each.lean * each.votes, 0) / weight;
}

/** To −45 … 45 degrees: level and plumb lean the same. */
const fold = (degrees: number) => ((((degrees + 45) % 90) + 90) % 90) - 45;
