/**
 * Clarity for people: structural similarity (Wang, Bovik, Sheikh and Simoncelli 2004) to the recording at the
 * size of the reference, as a number out of 100, and in a word.
 */
export function convertSsimToClarity(ssim: number): number {
  return Math.round(Math.max(0, Math.min(1, ssim)) * 1000) / 10;
}

export function describeClarity(ssim: number): string {
  if (ssim >= 0.985) return 'as clear as the recording';
  if (ssim >= 0.96) return 'clear';
  if (ssim >= 0.93) return 'slightly soft';
  return ssim >= 0.88 ? 'soft' : 'very soft';
}
