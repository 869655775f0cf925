import { readLight } from '../color/lab.ts';
import { measureLuma } from '../color/standard-look.ts';
import { findMedian, fitRobustly } from '../geometry/least-squares.ts';
import { listTerms } from '../light/even-light.ts';
import { composeProjective, type Projective, type Quad } from '../geometry/projective.ts';
import { transferFunctions } from '../color/transfer.ts';
import { alignShot } from './align-shots.ts';
import { renderPicture } from './render-picture.ts';
import { shrinkRgb, type RgbPicture } from './rgb-picture.ts';

export interface Shot {
  /** R, G, B of eight bits. */
  readonly picture: RgbPicture;
  /** Corners of the piece in shares of its edges; null where none were found. */
  readonly corners: Quad | null;
}

export interface MergedShots {
  /** As the first shot lies, R, G, B of eight bits. */
  readonly rgb: Uint8Array;
  /** Share of its points that were taken from another shot. */
  readonly replacedShare: number;
  /** How far the worst of the other shots lies from the first after it was laid on it, in its points. */
  readonly offPx: number;
}

/** Longer edge at which shots are laid on each other; between its points by a parabola. */
const LOOK_EDGE = 1280;
/** Further apart than this, in points looked at, what is merged would be blurred. */
const MOST_OFF_PX = 1;
/** Light of a lamp seen in a piece: brighter by so much than the other shots say, in shares of white. */
const GLARE = { from: 0.05, to: 0.12 } as const;
/** Darker than this nobody sees a lamp in it: there another shot is in the shade. */
const LEAST_LIGHT = 0.1;
const [COLUMNS, ROWS] = [32, 24];
const SPREAD = 3;

/**
 * Two or three shots of one piece, the lamp moved between them, as one without the lamp in it: laid on the
 * first, their lamps evened to its own by the ratio of what most places have (a surface of the second
 * degree), and where the first is brighter than the darkest of the others, that one is taken. Throws a
 * `RangeError`, in words for people, where they do not show the same piece.
 */
export function mergeShots(shots: readonly Shot[]): MergedShots {
  const [first, ...others] = shots;
  if (!first || others.length === 0) throw new RangeError('Two or three photographs are needed.');
  const { widthPx, heightPx } = first.picture;
  const size = { widthPx, heightPx };
  const laid = others.map((other) => layOn(first, other));
  const own = toLights(first.picture.bytes);
  const lights = laid.map(({ rgb }) => matchLamp(own, toLights(rgb), size));
  const darkest = findDarkest(lights, widthPx * heightPx);
  const weights = softenMask(findGlare(own, lights, darkest), size);
  const rgb = Uint8Array.from(first.picture.bytes);
  let replaced = 0;
  for (let point = 0; point < widthPx * heightPx; point += 1) {
    const weight = weights[point] as number;
    if (weight <= 0) continue;
    replaced += weight;
    const source = lights[darkest[point] as number] as Float32Array;
    for (let side = 0; side < 3; side += 1) {
      const at = point * 3 + side;
      const light = (own[at] as number) * (1 - weight) + (source[at] as number) * weight;
      rgb[at] = Math.round(255 * toSignal(Math.max(0, Math.min(1, light))));
    }
  }
  return {
    rgb,
    replacedShare: replaced / (widthPx * heightPx),
    offPx: Math.max(...laid.map(({ offPx }) => offPx)),
  };
}

const { toSignal } = transferFunctions.srgb;
const toLights = (rgb: ArrayLike<number>) =>
  Float32Array.from({ length: rgb.length }, (_, at) => readLight(rgb[at] ?? 0));
const weigh = (lights: Float32Array, at: number) =>
  measureLuma(lights[at] as number, lights[at + 1] as number, lights[at + 2] as number);

function layOn(first: Shot, other: Shot): { rgb: Uint8Array; offPx: number } {
  const { widthPx, heightPx } = first.picture;
  const scale = Math.min(1, LOOK_EDGE / Math.max(widthPx, heightPx));
  const [small, smallOther] = [first, other].map(({ picture }) =>
    shrinkRgb(picture, {
      widthPx: Math.max(1, Math.round(picture.widthPx * scale)),
      heightPx: Math.max(1, Math.round(picture.heightPx * scale)),
    }),
  ) as [RgbPicture, RgbPicture];
  const corners = first.corners && other.corners ? ([first.corners, other.corners] as const) : null;
  // Corners that were found wrong in one of them must not keep the others apart that lie as they are.
  const found = alignShot(small, smallOther, corners) ?? alignShot(small, smallOther, null);
  if (!found || found.offPx > MOST_OFF_PX)
    throw new RangeError('These photographs do not show the same piece from nearly the same place.');
  const map: Projective = composeProjective(found.map, [
    other.picture.widthPx / smallOther.widthPx,
    0,
    0,
    0,
    other.picture.heightPx / smallOther.heightPx,
    0,
    0,
    0,
    1,
  ]);
  const source = { ...other.picture, most: 255 as const, levels: Uint8Array.from(other.picture.bytes) };
  return {
    rgb: renderPicture({ source, map, size: { widthPx, heightPx }, table: null }),
    offPx: found.offPx / scale,
  };
}

/** Another shot's light as the first one's lamp would give it: times a surface of the ratio of both. */
function matchLamp(
  own: Float32Array,
  other: Float32Array,
  { widthPx, heightPx }: { widthPx: number; heightPx: number },
): Float32Array {
  const made = new Float32Array(other.length);
  for (let side = 0; side < 3; side += 1) {
    const samples: Sample[] = [];
    for (let row = 0; row < ROWS; row += 1)
      for (let column = 0; column < COLUMNS; column += 1) {
        const [left, right] = [column, column + 1].map((at) => Math.floor((at * widthPx) / COLUMNS)) as [
          number,
          number,
        ];
        const [top, bottom] = [row, row + 1].map((at) => Math.floor((at * heightPx) / ROWS)) as [
          number,
          number,
        ];
        let [sumOwn, sumOther] = [0, 0];
        for (let y = top; y < bottom; y += 1)
          for (let x = left; x < right; x += 1) {
            const at = (y * widthPx + x) * 3 + side;
            sumOwn += own[at] as number;
            sumOther += other[at] as number;
          }
        const points = Math.max(1, (right - left) * (bottom - top));
        if (sumOwn / points > 0.004 && sumOther / points > 0.004)
          samples.push({
            s: (2 * (column + 0.5)) / COLUMNS - 1,
            t: (2 * (row + 0.5)) / ROWS - 1,
            value: Math.log(sumOwn / sumOther),
          });
      }
    const [c0, c1, c2, c3, c4, c5] = fitSurface(samples) as [number, number, number, number, number, number];
    for (let y = 0; y < heightPx; y += 1) {
      const t = (2 * (y + 0.5)) / heightPx - 1;
      const [still, slope] = [c0 + t * (c2 + c5 * t), c1 + c4 * t];
      for (let x = 0; x < widthPx; x += 1) {
        const at = (y * widthPx + x) * 3 + side;
        const s = (2 * (x + 0.5)) / widthPx - 1;
        made[at] = (other[at] as number) * Math.exp(still + s * (slope + c3 * s));
      }
    }
  }
  return made;
}

interface Sample {
  readonly s: number;
  readonly t: number;
  readonly value: number;
}

const TERMS = 6;
const LEAST_SPREAD = 0.01;

/** The surface of the second degree that most places lie on; where none is told, as high as half of them. */
function fitSurface(samples: readonly Sample[]): readonly number[] {
  const equations = samples.map(({ s, t, value }) => ({ terms: listTerms(s, t, TERMS), wanted: value }));
  const level = [findMedian(samples.map(({ value }) => value)), 0, 0, 0, 0, 0];
  return fitRobustly(equations, TERMS, LEAST_SPREAD, level)?.factors ?? level;
}

/** Which of the other shots is darkest at each point: that one has no lamp in it. */
function findDarkest(lights: readonly Float32Array[], points: number): Uint8Array {
  const darkest = new Uint8Array(points);
  for (let each = 1; each < lights.length; each += 1) {
    const other = lights[each] as Float32Array;
    for (let point = 0; point < points; point += 1) {
      const best = lights[darkest[point] as number] as Float32Array;
      if (weigh(other, point * 3) < weigh(best, point * 3)) darkest[point] = each;
    }
  }
  return darkest;
}

/** How surely each point of the first shot shows a lamp, 0 to 1. */
function findGlare(own: Float32Array, lights: readonly Float32Array[], darkest: Uint8Array): Float32Array {
  const made = new Float32Array(darkest.length);
  for (let point = 0; point < made.length; point += 1) {
    const at = point * 3;
    const least = Math.min(own[at] as number, own[at + 1] as number, own[at + 2] as number);
    if (least < LEAST_LIGHT) continue;
    const more = weigh(own, at) - weigh(lights[darkest[point] as number] as Float32Array, at);
    made[point] = Math.max(0, Math.min(1, (more - GLARE.from) / (GLARE.to - GLARE.from)));
  }
  return made;
}

/** Single points are grain or edges that lie beside each other; what is left goes over softly. */
function softenMask(mask: Float32Array, { widthPx: w, heightPx: h }: { widthPx: number; heightPx: number }) {
  const reach = Math.max(SPREAD, Math.round(Math.max(w, h) / 400));
  const solid = boxMean(mask, w, h, reach).map((mean) => (mean > 0.45 ? 1 : 0));
  // Wide enough that the rim of the lamp, which is only a little brighter, goes with it.
  const wide = boxMean(solid, w, h, 2 * reach).map((mean) => Math.min(1, mean * 3));
  return boxMean(wide, w, h, reach);
}

/** Mean of the points within so many on each side, by running sums. */
function boxMean(values: Float32Array, w: number, h: number, reach: number): Float32Array {
  const along = (from: Float32Array, count: number, step: number, lines: number, stride: number) => {
    const made = new Float32Array(from.length);
    for (let line = 0; line < lines; line += 1) {
      let sum = 0;
      let points = 0;
      const base = line * stride;
      for (let at = 0; at < Math.min(reach, count); at += 1) {
        sum += from[base + at * step] as number;
        points += 1;
      }
      for (let at = 0; at < count; at += 1) {
        if (at + reach < count) {
          sum += from[base + (at + reach) * step] as number;
          points += 1;
        }
        if (at - reach - 1 >= 0) {
          sum -= from[base + (at - reach - 1) * step] as number;
          points -= 1;
        }
        made[base + at * step] = sum / points;
      }
    }
    return made;
  };
  return along(along(values, w, 1, h, w), h, w, w, 1);
}
