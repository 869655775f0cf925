/**
 * Discrete Fourier transform in place, unscaled, of a complex signal whose length is a power of two (Cooley
 * and Tukey 1965, radix 2, decimation in time). `re` and `im` have the same length; throws a `RangeError` for
 * others.
 */
export function transformFourier(re: Float64Array, im: Float64Array): void {
  const n = re.length;
  if (n === 0 || (n & (n - 1)) !== 0 || im.length !== n) throw new RangeError('A power of two is needed.');
  reorderByReversedBits(re, im);
  for (let size = 2; size <= n; size *= 2) {
    const half = size / 2;
    const angle = (-2 * Math.PI) / size;
    for (let k = 0; k < half; k += 1) {
      const [cos, sin] = [Math.cos(angle * k), Math.sin(angle * k)];
      for (let even = k; even < n; even += size) {
        const odd = even + half;
        const [oddRe, oddIm] = [re[odd] ?? 0, im[odd] ?? 0];
        const [turnedRe, turnedIm] = [oddRe * cos - oddIm * sin, oddRe * sin + oddIm * cos];
        const [evenRe, evenIm] = [re[even] ?? 0, im[even] ?? 0];
        re[odd] = evenRe - turnedRe;
        im[odd] = evenIm - turnedIm;
        re[even] = evenRe + turnedRe;
        im[even] = evenIm + turnedIm;
      }
    }
  }
}

function reorderByReversedBits(re: Float64Array, im: Float64Array): void {
  const n = re.length;
  for (let index = 1, other = 0; index < n; index += 1) {
    let bit = n >> 1;
    for (; (other & bit) !== 0; bit >>= 1) other ^= bit;
    other ^= bit;
    if (index >= other) continue;
    [re[index], re[other]] = [re[other] ?? 0, re[index] ?? 0];
    [im[index], im[other]] = [im[other] ?? 0, im[index] ?? 0];
  }
}

/**
 * Sums of products of `left` with `right` moved by 0, 1, … `lags - 1` samples, `Σ left[i] · right[i + lag]`,
 * by one transform of both together. What `right` lacks is 0.
 */
export function correlate(left: ArrayLike<number>, right: ArrayLike<number>, lags: number): Float64Array {
  let n = 1;
  while (n < left.length + lags || n < right.length) n *= 2;
  const [re, im] = [new Float64Array(n), new Float64Array(n)];
  for (let index = 0; index < left.length; index += 1) re[index] = left[index] ?? 0;
  for (let index = 0; index < right.length; index += 1) im[index] = right[index] ?? 0;
  transformFourier(re, im);
  // Both spectra follow from the one transform. Their product, the first conjugated, is
  // conjugated once more, so that the same transform goes back.
  const [outRe, outIm] = [new Float64Array(n), new Float64Array(n)];
  for (let k = 0; k < n; k += 1) {
    const mirror = (n - k) & (n - 1);
    const [aRe, aIm] = [((re[k] ?? 0) + (re[mirror] ?? 0)) / 2, ((im[k] ?? 0) - (im[mirror] ?? 0)) / 2];
    const [bRe, bIm] = [((im[k] ?? 0) + (im[mirror] ?? 0)) / 2, ((re[mirror] ?? 0) - (re[k] ?? 0)) / 2];
    outRe[k] = aRe * bRe + aIm * bIm;
    outIm[k] = -(aRe * bIm - aIm * bRe);
  }
  transformFourier(outRe, outIm);
  return Float64Array.from({ length: lags }, (_, lag) => (outRe[lag] ?? 0) / n);
}
