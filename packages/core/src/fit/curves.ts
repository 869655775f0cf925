import type { TakeComplexity } from '../media/analysis.ts';
import type { TimeRange } from '../time/range.ts';
import { interpolateMonotone } from './monotone.ts';
import { LEAST_SLOPE, MOST_SLOPE } from './rate-control.ts';
import type { FitPoint, FitSamples } from './samples.ts';
import { integrateColumns } from './weigh-spans.ts';

/** A point of a curve: what the kept part is predicted to come to at one rate factor. */
export interface CurvePoint {
  readonly crf: number;
  /** Bytes of the picture alone. */
  readonly videoBytes: number;
  readonly ssim: number;
  /** At its own size. */
  readonly ownSsim: number;
}

/** Clarity against bytes for one number of lines and share of frames; bytes ascending. */
export interface Curve {
  readonly lines: number;
  readonly rateDivisor: 1 | 2;
  readonly points: readonly CurvePoint[];
}

/** How bytes grow with complexity where the samples are too alike to tell. */
const USUAL_POWER = 0.85;
const LEAST_COMPLEXITY = 0.06;

/**
 * The curves of a kept part. Bytes of a stretch of time are taken as `c · x^p` of its complexity `x`, clarity
 * as linear in `ln x`; `c`, `p` and the line are fitted to the samples (least squares, drawn to the mean
 * where samples are few) and summed over the kept part.
 */
export function buildCurves(
  samples: FitSamples,
  complexity: TakeComplexity | null,
  keep: TimeRange,
): Curve[] {
  const relative = buildRelative(complexity);
  const xs = samples.windows.map((window) =>
    meanOf(relative, { startUs: window.startUs, finishUs: window.startUs + window.durationUs }, (x) => x),
  );
  const groups = new Map<string, FitPoint[]>();
  for (const point of samples.points)
    groups.set(`${point.lines}/${point.rateDivisor}`, [
      ...(groups.get(`${point.lines}/${point.rateDivisor}`) ?? []),
      point,
    ]);
  return [...groups.values()]
    .map((points) => {
      const [first] = points;
      const curve = points
        .map((point) => predictPoint(point, samples, xs, relative, keep))
        .sort((left, right) => left.videoBytes - right.videoBytes);
      return { lines: first?.lines ?? 1, rateDivisor: first?.rateDivisor ?? 1, points: makeMonotone(curve) };
    })
    .sort((left, right) => right.lines - left.lines || left.rateDivisor - right.rateDivisor);
}

function buildRelative(complexity: TakeComplexity | null): TakeComplexity {
  if (!complexity || complexity.bits.length === 0) return { columnUs: 1_000_000, bits: [1] };
  const mean = complexity.bits.reduce((sum, bits) => sum + bits, 0) / complexity.bits.length || 1;
  return {
    columnUs: complexity.columnUs,
    bits: complexity.bits.map((bits) => LEAST_COMPLEXITY + bits / mean),
  };
}

function meanOf(relative: TakeComplexity, range: TimeRange, value: (x: number) => number): number {
  return (
    integrateColumns(relative, range.startUs, range.finishUs, value) /
    Math.max(1, range.finishUs - range.startUs)
  );
}

function predictPoint(
  point: FitPoint,
  samples: FitSamples,
  xs: readonly number[],
  relative: TakeComplexity,
  keep: TimeRange,
): CurvePoint {
  const rates = point.bytes.map(
    (bytes, index) => (bytes * 1e6) / (samples.windows[index]?.durationUs ?? 1e6),
  );
  const logs = xs.map((x) => Math.log(x));
  const power = Math.max(
    0,
    Math.min(
      1.3,
      fitSlope(
        logs,
        rates.map((rate) => Math.log(rate)),
        USUAL_POWER,
      ),
    ),
  );
  const scale = rates.reduce((sum, rate) => sum + rate, 0) / xs.reduce((sum, x) => sum + x ** power, 0);
  const seconds = (keep.finishUs - keep.startUs) / 1e6;
  const videoBytes = scale * meanOf(relative, keep, (x) => x ** power) * seconds;
  const keptLog = meanOf(relative, keep, (x) => Math.log(x));
  return {
    crf: point.crf,
    videoBytes,
    ssim: predictSsim(point.ssim, logs, keptLog),
    ownSsim: predictSsim(point.ownSsim, logs, keptLog),
  };
}

function predictSsim(values: readonly number[], logs: readonly number[], keptLog: number): number {
  const meanLog = logs.reduce((sum, log) => sum + log, 0) / Math.max(1, logs.length);
  const mean = values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
  return Math.min(0.9999, mean + fitSlope(logs, values, 0) * (keptLog - meanLog));
}

/** Least-squares slope, drawn to `usual` as if by a fifth of a spread of one in `x`. */
function fitSlope(xs: readonly number[], ys: readonly number[], usual: number): number {
  const [meanX, meanY] = [xs, ys].map(
    (values) => values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length),
  ) as [number, number];
  const spread = xs.reduce((sum, x) => sum + (x - meanX) ** 2, 0);
  const shared = xs.reduce((sum, x, index) => sum + (x - meanX) * ((ys[index] ?? meanY) - meanY), 0);
  const draw = 0.2;
  return (shared + usual * draw) / (spread + draw);
}

/** More bytes are never less clear: measuring noise is evened out upwards. */
function makeMonotone(points: readonly CurvePoint[]): CurvePoint[] {
  let [highest, highestOwn] = [-Infinity, -Infinity];
  return points.map((point) => {
    highest = Math.max(highest, point.ssim);
    highestOwn = Math.max(highestOwn, point.ownSsim);
    return { ...point, ssim: highest, ownSsim: highestOwn };
  });
}

/**
 * Where a curve stands at so many bytes of picture: a smooth curve through the samples in the logarithms of
 * bytes and of what is missing to full likeness. Of grain, where likeness rises slowly and then at once, a
 * straight line between samples would promise too much.
 */
export function readCurve(
  curve: Curve,
  videoBytes: number,
): { crf: number; ssim: number; ownSsim: number; slope: number } {
  const { points } = curve;
  const xs = points.map((point) => Math.log2(point.videoBytes));
  const last = points.length - 1;
  if (last < 1)
    return {
      crf: points[0]?.crf ?? 26,
      ssim: points[0]?.ssim ?? 0,
      ownSsim: points[0]?.ownSsim ?? 0,
      slope: 6,
    };
  const x = (index: number) => xs[index] ?? 0;
  const at = Math.log2(Math.max(1, videoBytes));
  // Beyond the last samples likeness goes on no further than about one sample's distance.
  const held = Math.max(x(0) - 1.5 * (x(1) - x(0)), Math.min(x(last) + (x(last) - x(last - 1)), at));
  const miss = (ssim: number) => Math.log(Math.max(1e-5, 1 - ssim));
  const read = (of: (point: CurvePoint) => number) =>
    Math.max(
      0,
      1 -
        Math.exp(
          interpolateMonotone(
            xs,
            points.map((point) => miss(of(point))),
            held,
          ),
        ),
    );
  const upper = Math.max(1, xs.slice(0, last).filter((each) => each < at).length);
  const slope =
    ((points[upper - 1]?.crf ?? 0) - (points[upper]?.crf ?? 0)) / Math.max(1e-6, x(upper) - x(upper - 1));
  return {
    crf: interpolateMonotone(
      xs,
      points.map((point) => point.crf),
      at,
    ),
    ssim: read((point) => point.ssim),
    ownSsim: read((point) => point.ownSsim),
    slope: Math.max(LEAST_SLOPE, Math.min(MOST_SLOPE, slope)),
  };
}

/**
 * The bytes of picture at a rate factor; finer than the finest sample it goes on in the direction of the last
 * two.
 */
export function readCurveAtCrf(curve: Curve, crf: number): number {
  const ordered = [...curve.points].sort((left, right) => left.crf - right.crf);
  return ordered.length === 0
    ? 1
    : 2 **
        interpolateMonotone(
          ordered.map((point) => point.crf),
          ordered.map((point) => Math.log2(point.videoBytes)),
          crf,
        );
}

export interface HullPoint {
  readonly curve: Curve;
  readonly point: CurvePoint;
}

/**
 * The upper convex hull of all sampled points over the logarithm of bytes: what no other way of coding beats.
 * Bytes ascending.
 */
export function buildHull(curves: readonly Curve[]): HullPoint[] {
  const all = curves
    .flatMap((curve) => curve.points.map((point) => ({ curve, point })))
    .sort(
      (left, right) => left.point.videoBytes - right.point.videoBytes || right.point.ssim - left.point.ssim,
    );
  const hull: HullPoint[] = [];
  const cross = (a: HullPoint, b: HullPoint, c: HullPoint) => {
    const x = (each: HullPoint) => Math.log(each.point.videoBytes);
    return (x(b) - x(a)) * (c.point.ssim - a.point.ssim) - (b.point.ssim - a.point.ssim) * (x(c) - x(a));
  };
  for (const each of all) {
    while (
      hull.length >= 2 &&
      cross(hull[hull.length - 2] as HullPoint, hull[hull.length - 1] as HullPoint, each) >= 0
    )
      hull.pop();
    hull.push(each);
  }
  const top = hull.reduce(
    (best, each, index) => (each.point.ssim > (hull[best]?.point.ssim ?? -1) ? index : best),
    0,
  );
  return hull.slice(0, top + 1);
}

/**
 * What is kept first where not everything can be: smooth movement, sharp detail, or whatever is most like the
 * recording.
 */
export type Preference = 'balanced' | 'motion' | 'sharpness';

/** By how much fewer frames have to be better before they are taken, for each preference. */
const HALF_RATE_PENALTY: Readonly<Record<Preference, number>> = { balanced: 0.01, motion: 1, sharpness: 0 };

/**
 * The curve that is most like the recording at so many bytes. `bytesOf` tells the bytes of picture that a
 * curve may take.
 */
export function chooseCurve(
  curves: readonly Curve[],
  preference: Preference,
  bytesOf: (curve: Curve) => number,
): ({ curve: Curve } & ReturnType<typeof readCurve>) | null {
  let best: ({ curve: Curve; score: number } & ReturnType<typeof readCurve>) | null = null;
  for (const curve of curves) {
    const bytes = bytesOf(curve);
    if (bytes < 1) continue;
    const read = readCurve(curve, bytes);
    const score = read.ssim - (curve.rateDivisor === 2 ? HALF_RATE_PENALTY[preference] : 0);
    if (!best || score > best.score + 1e-9) best = { curve, ...read, score };
  }
  return best;
}
