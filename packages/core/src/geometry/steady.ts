import type { Affine } from './frame.ts';
import type { SizePx } from './turn.ts';

/** How a picture has moved about since its first frame, as the camera shook or followed somebody. */
export interface ShakeCourse {
  /** To the right and down, in shares of the picture's width; one value a frame. */
  readonly x: Float32Array;
  readonly y: Float32Array;
  /** Clockwise on screen, in radians. */
  readonly angle: Float32Array;
}

/** How each frame is laid so that the picture stands calm. */
export interface SteadyCourse extends ShakeCourse {
  /** Share of the width and height that is still seen: the rest is what keeps corners from being empty. */
  readonly kept: number;
}

export const LEAST_STEADY = 0.1;
/** At full strength movement of less than about a second is taken out (standard deviation of the window). */
const MOST_SIGMA_S = 1.2;
/** No more than this is lost on each axis, however much it shakes: beyond it some shaking stays. */
const LEAST_KEPT = 0.8;
/** Beyond three standard deviations nothing counts. */
const REACH = 3;

/**
 * What takes shaking out: each frame is moved to where a smoothed course would have it, and all are enlarged
 * as far as the frames that are kept ask for. `strength` 0.1 to 1; `kept` are frames, first inclusive, last
 * exclusive.
 */
export function planSteady(
  shake: ShakeCourse,
  size: SizePx,
  framesPerSecond: number,
  strength: number,
  kept: readonly { readonly first: number; readonly last: number }[],
): SteadyCourse {
  const sigma = Math.max(1, strength * MOST_SIGMA_S * framesPerSecond);
  const off = (course: Float32Array) => subtract(course, smooth(course, sigma));
  const [x, y, angle] = [off(shake.x), off(shake.y), off(shake.angle)];
  let least = 1;
  for (const { first, last } of kept)
    for (let frame = first; frame < Math.min(last, x.length); frame += 1) {
      const share = fitFrame(x, y, angle, frame, size);
      least = Math.min(least, share);
    }
  // A little less than what is just enough, so that interpolation never reaches beyond the edge.
  return { x, y, angle, kept: Math.max(LEAST_KEPT, least - 0.003) };
}

/**
 * How much of the picture a frame leaves in view; where that is too little the frame is moved less, to where
 * it is just enough.
 */
function fitFrame(
  x: Float32Array,
  y: Float32Array,
  angle: Float32Array,
  frame: number,
  size: SizePx,
): number {
  const at = (share: number) =>
    measureKept((x[frame] ?? 0) * share, (y[frame] ?? 0) * share, (angle[frame] ?? 0) * share, size);
  const whole = at(1);
  if (whole >= LEAST_KEPT + 0.003) return whole;
  let [low, high] = [0, 1];
  for (let step = 0; step < 24; step += 1) {
    const middle = (low + high) / 2;
    if (at(middle) >= LEAST_KEPT + 0.003) low = middle;
    else high = middle;
  }
  for (const course of [x, y, angle]) course[frame] = (course[frame] ?? 0) * low;
  return at(low);
}

/** The largest share of both edges at which no corner of a moved and turned picture is empty. */
function measureKept(x: number, y: number, angle: number, { widthPx: w, heightPx: h }: SizePx): number {
  const [cos, sin] = [Math.cos(angle), Math.abs(Math.sin(angle))];
  const acrossPx = (w / 2) * cos + (h / 2) * sin;
  const downPx = (w / 2) * sin + (h / 2) * cos;
  return Math.max(0, Math.min(1, (w / 2 - Math.abs(x) * w) / acrossPx, (h / 2 - Math.abs(y) * w) / downPx));
}

function smooth(course: Float32Array, sigma: number): Float32Array {
  const reach = Math.ceil(REACH * sigma);
  const weights = Float64Array.from({ length: reach + 1 }, (_, away) => Math.exp(-0.5 * (away / sigma) ** 2));
  return course.map((_, frame) => {
    let [sum, weight] = [0, 0];
    const [from, to] = [Math.max(0, frame - reach), Math.min(course.length - 1, frame + reach)];
    for (let at = from; at <= to; at += 1) {
      const own = weights[Math.abs(at - frame)] ?? 0;
      sum += own * (course[at] ?? 0);
      weight += own;
    }
    return sum / weight;
  });
}

const subtract = (left: Float32Array, right: Float32Array) =>
  left.map((value, index) => value - (right[index] ?? 0));

/** Where a point of the steadied picture, in points, lies in the frame as it was recorded. */
export function mapSteady(course: SteadyCourse, frame: number, { widthPx: w, heightPx: h }: SizePx): Affine {
  const angle = course.angle[frame] ?? 0;
  const { kept } = course;
  const [cos, sin] = [kept * Math.cos(angle), kept * Math.sin(angle)];
  const [x, y] = [(course.x[frame] ?? 0) * w, (course.y[frame] ?? 0) * w];
  return {
    a: cos,
    c: -sin,
    e: w / 2 - x - (cos * w - sin * h) / 2,
    b: sin,
    d: cos,
    f: h / 2 - y - (sin * w + cos * h) / 2,
  };
}

/** The course of a whole take from how far each frame moved against the one before it. */
export function addUpShake(
  moved: readonly { readonly x: number; readonly y: number; readonly angle: number }[],
): ShakeCourse {
  const add = (read: (each: { x: number; y: number; angle: number }) => number) => {
    let sum = 0;
    return Float32Array.from(moved, (each) => (sum += read(each)));
  };
  return { x: add((each) => each.x), y: add((each) => each.y), angle: add((each) => each.angle) };
}
