/**
 * An expression of FFmpeg's `select` that is true for the frames of these numbers. Sums are nested evenly: a
 * plain chain of them goes one level deeper with each, and FFmpeg gives up at a hundred.
 */
export function writeFrameNumbers(numbers: readonly number[]): string {
  if (numbers.length === 0) return '0';
  if (numbers.length === 1) return `eq(n,${numbers[0] ?? 0})`;
  const half = numbers.length >> 1;
  return `(${writeFrameNumbers(numbers.slice(0, half))}+${writeFrameNumbers(numbers.slice(half))})`;
}
