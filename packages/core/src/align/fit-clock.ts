/** An offset that a stretch of sound speaks for. */
export interface TimedOffset {
  /** Middle of the stretch in the separate sound's own time. */
  readonly atS: number;
  readonly offsetS: number;
  readonly salience: number;
}

export interface ClockFit {
  /** At time 0 of the separate sound. */
  readonly offsetS: number;
  readonly driftPpm: number;
  /** Stretches that lie on the line, and their share of all that were tried. */
  readonly agreeing: number;
  readonly share: number;
  readonly meanSalience: number;
}

/** Stretches of the same sound agree within this. */
const NEAR_S = 0.0015;
/** Over less than this a difference of clocks cannot be told from error. */
const LEAST_SPAN_S = 20;

/**
 * The straight line that most stretches agree on, through every pair of them (M. Fischler and R. Bolles,
 * 1981, with all pairs in place of chance), then by least squares through those. null where none says
 * anything.
 */
export function fitClock(
  found: readonly TimedOffset[],
  tried: number,
  mostDriftPpm: number,
): ClockFit | null {
  let best: readonly TimedOffset[] = [];
  const hold = (base: number, slope: number) => {
    const near = found.filter(({ atS, offsetS }) => Math.abs(offsetS - base - slope * atS) <= NEAR_S);
    const weigh = (of: readonly TimedOffset[]) => of.reduce((sum, { salience }) => sum + salience, 0);
    if (near.length > best.length || (near.length === best.length && weigh(near) > weigh(best))) best = near;
  };
  found.forEach((left, index) => {
    hold(left.offsetS, 0);
    for (const right of found.slice(index + 1)) {
      const spanS = right.atS - left.atS;
      if (spanS < LEAST_SPAN_S) continue;
      const slope = (right.offsetS - left.offsetS) / spanS;
      if (Math.abs(slope) <= mostDriftPpm * 1e-6) hold(left.offsetS - slope * left.atS, slope);
    }
  });
  if (best.length === 0) return null;
  const { base, slope } = fitLeastSquares(best);
  return {
    offsetS: base,
    driftPpm: slope * 1e6,
    agreeing: best.length,
    share: best.length / Math.max(1, tried),
    meanSalience: best.reduce((sum, { salience }) => sum + salience, 0) / best.length,
  };
}

function fitLeastSquares(points: readonly TimedOffset[]): { base: number; slope: number } {
  const mean = (read: (point: TimedOffset) => number) =>
    points.reduce((sum, point) => sum + read(point), 0) / points.length;
  const [atS, offsetS] = [mean((point) => point.atS), mean((point) => point.offsetS)];
  const spread = points.reduce((sum, point) => sum + (point.atS - atS) ** 2, 0);
  const times = points.map((point) => point.atS);
  const spanS = Math.max(...times) - Math.min(...times);
  if (spanS < LEAST_SPAN_S || points.length < 3) return { base: offsetS, slope: 0 };
  const slope =
    points.reduce((sum, point) => sum + (point.atS - atS) * (point.offsetS - offsetS), 0) / spread;
  return { base: offsetS - slope * atS, slope };
}
