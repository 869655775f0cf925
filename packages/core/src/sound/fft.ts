// Plain reads in loops: pairs by destructuring take three times as long here.

/**
 * Discrete Fourier transform in place, unscaled, of a complex signal whose length is a power of two (Cooley
 * and Tukey 1965, radix 2, decimation in time). `re` and `im` have the same length; throws a `RangeError` for
 * others.
 */
export function transformFourier(re: Float64Array, im: Float64Array): void {
  const n = re.length;
  if (n === 0 || (n & (n - 1)) !== 0 || im.length !== n) throw new RangeError('A power of two is needed.');
  reorderByReversedBits(re, im);
  const { cos, sin } = findTurns(n);
  for (let size = 2; size <= n; size *= 2) {
    const half = size / 2;
    const step = n / size;
    // Block after block, so that what lies side by side is read together.
    for (let start = 0; start < n; start += size)
      for (let k = 0; k < half; k += 1) {
        const even = start + k;
        const odd = even + half;
        const turnRe = cos[k * step] as number;
        const turnIm = sin[k * step] as number;
        const oddRe = re[odd] as number;
        const oddIm = im[odd] as number;
        const turnedRe = oddRe * turnRe - oddIm * turnIm;
        const turnedIm = oddRe * turnIm + oddIm * turnRe;
        const evenRe = re[even] as number;
        const evenIm = im[even] as number;
        re[odd] = evenRe - turnedRe;
        im[odd] = evenIm - turnedIm;
        re[even] = evenRe + turnedRe;
        im[even] = evenIm + turnedIm;
      }
  }
}

interface Turns {
  readonly cos: Float64Array;
  readonly sin: Float64Array;
}

/** The last that were needed: one transform is followed by more of its length. */
let lastTurns: Turns = { cos: new Float64Array(0), sin: new Float64Array(0) };

/** `exp(-2πik / n)` for the first half of `k`. */
function findTurns(n: number): Turns {
  if (lastTurns.cos.length !== n / 2) {
    const build = (write: (angle: number) => number) =>
      Float64Array.from({ length: n / 2 }, (_, k) => write((-2 * Math.PI * k) / n));
    lastTurns = { cos: build(Math.cos), sin: build(Math.sin) };
  }
  return lastTurns;
}

function reorderByReversedBits(re: Float64Array, im: Float64Array): void {
  const n = re.length;
  for (let index = 1, other = 0; index < n; index += 1) {
    let bit = n >> 1;
    for (; (other & bit) !== 0; bit >>= 1) other ^= bit;
    other ^= bit;
    if (index >= other) continue;
    const heldRe = re[index] as number;
    const heldIm = im[index] as number;
    re[index] = re[other] as number;
    im[index] = im[other] as number;
    re[other] = heldRe;
    im[other] = heldIm;
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
    const ownRe = re[k] as number;
    const ownIm = im[k] as number;
    const mirrorRe = re[mirror] as number;
    const mirrorIm = im[mirror] as number;
    const aRe = (ownRe + mirrorRe) / 2;
    const aIm = (ownIm - mirrorIm) / 2;
    const bRe = (ownIm + mirrorIm) / 2;
    const bIm = (mirrorRe - ownRe) / 2;
    outRe[k] = aRe * bRe + aIm * bIm;
    outIm[k] = -(aRe * bIm - aIm * bRe);
  }
  transformFourier(outRe, outIm);
  return Float64Array.from({ length: lags }, (_, lag) => (outRe[lag] ?? 0) / n);
}
