/**
 * A smooth curve through points that never overshoots them: piecewise cubic Hermite interpolation with the
 * slopes of Fritsch and Butland (SIAM J. Sci. Stat. Comput. 5, 1984). `xs` ascending, as many `ys`; beyond
 * the ends the first and the last piece go on straight. The result is monotone wherever the points are.
 * Throws a `RangeError` without points.
 */
export function interpolateMonotone(xs: readonly number[], ys: readonly number[], x: number): number {
  const last = xs.length - 1;
  if (last < 0 || ys.length !== xs.length)
    throw new RangeError('As many values as places are needed, and one at least.');
  if (last === 0) return ys[0] ?? 0;
  const at = (values: readonly number[], index: number) => values[index] ?? 0;
  const width = (index: number) => Math.max(1e-12, at(xs, index + 1) - at(xs, index));
  const rise = (index: number) => (at(ys, index + 1) - at(ys, index)) / width(index);
  if (x <= at(xs, 0)) return at(ys, 0) + (x - at(xs, 0)) * rise(0);
  if (x >= at(xs, last)) return at(ys, last) + (x - at(xs, last)) * rise(last - 1);
  const found = xs.findIndex((place) => place > x) - 1;
  const slope = (index: number): number => {
    if (index === 0)
      return findEndSlope(width(0), last > 1 ? width(1) : null, rise(0), last > 1 ? rise(1) : 0);
    if (index === last)
      return findEndSlope(
        width(last - 1),
        last > 1 ? width(last - 2) : null,
        rise(last - 1),
        last > 1 ? rise(last - 2) : 0,
      );
    const [before, after] = [rise(index - 1), rise(index)];
    if (before * after <= 0) return 0;
    const [one, two] = [2 * width(index) + width(index - 1), width(index) + 2 * width(index - 1)];
    return (one + two) / (one / before + two / after);
  };
  const [h, from, to] = [width(found), at(ys, found), at(ys, found + 1)];
  const t = (x - at(xs, found)) / h;
  return (
    from * (1 + 2 * t) * (1 - t) ** 2 +
    h * slope(found) * t * (1 - t) ** 2 +
    to * t ** 2 * (3 - 2 * t) +
    h * slope(found + 1) * t ** 2 * (t - 1)
  );
}

/** One-sided slope from the next two pieces, held so that the curve stays monotone. */
function findEndSlope(near: number, far: number | null, riseNear: number, riseFar: number): number {
  if (far === null) return riseNear;
  const slope = ((2 * near + far) * riseNear - near * riseFar) / (near + far);
  if (slope * riseNear <= 0) return 0;
  return riseNear * riseFar <= 0 && Math.abs(slope) > Math.abs(3 * riseNear) ? 3 * riseNear : slope;
}
