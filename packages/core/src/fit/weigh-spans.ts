import type { TakeComplexity } from '../media/analysis.ts';
import type { FrameSpan } from './pieces.ts';

/** A still stretch still costs this share of the mean: keyframes have to be there. */
const LEAST_SHARE = 0.06;

/**
 * The relative bytes of spans of an output at equal quality: the complexity of the take over the same time.
 * `startUs` is where the output starts in the take, `rate` its frames a second. Without measured complexity
 * time alone counts.
 */
export function weighSpans(
  complexity: TakeComplexity | null,
  startUs: number,
  spans: readonly FrameSpan[],
  rate: number,
): number[] {
  const secondsOf = (span: FrameSpan) => Math.max(1e-6, (span.last - span.first) / rate);
  const mean =
    complexity && complexity.bits.length > 0
      ? complexity.bits.reduce((sum, bits) => sum + bits, 0) / complexity.bits.length
      : 0;
  if (!complexity || mean <= 0) return spans.map(secondsOf);
  return spans.map((span) => {
    const [fromUs, toUs] = [startUs + (span.first * 1e6) / rate, startUs + (span.last * 1e6) / rate];
    return Math.max(
      1e-6,
      integrateColumns(complexity, fromUs, toUs, (bits) => LEAST_SHARE + bits / mean) / 1e6,
    );
  });
}

/** The integral of `value(bits)` over time in microseconds; beyond the last column its value goes on. */
export function integrateColumns(
  complexity: TakeComplexity,
  fromUs: number,
  toUs: number,
  value: (bits: number) => number,
): number {
  const { columnUs, bits } = complexity;
  let sum = 0;
  for (let index = Math.max(0, Math.floor(fromUs / columnUs)); index * columnUs < toUs; index += 1) {
    const overlapUs = Math.min(toUs, (index + 1) * columnUs) - Math.max(fromUs, index * columnUs);
    if (overlapUs > 0) sum += value(bits[Math.min(index, bits.length - 1)] ?? 0) * overlapUs;
  }
  return sum;
}
