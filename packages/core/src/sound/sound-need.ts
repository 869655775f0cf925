import type { SoundPeaks } from '../media/analysis.ts';

/** What sound needs: music all that it can use, speech less. */
export type SoundNeed = 'music' | 'speech';

const SPOKEN = /drama|theatre|theater|acting|speech|speak|oral|language|english|debate|poetry|storytelling/i;
/** Windows whose mean stays below this hold nothing to judge by. */
const SILENCE = 0.004;
/**
 * Speech falls below half of its mean in so many parts of each second, between syllables and words; held
 * tones do not.
 */
const LEAST_LOW_SHARE = 0.3;

/**
 * Music, unless both the subject is a spoken one and the sound comes and goes like speech: the share of parts
 * of a second that are quieter than half of that second's mean (after Saunders 1996, "Real-time
 * discrimination of broadcast speech/music"). Without peaks the subject decides.
 */
export function findSoundNeed(subject: string, peaks: SoundPeaks | null): SoundNeed {
  if (!SPOKEN.test(subject)) return 'music';
  const share = peaks ? measureLowShare(peaks) : null;
  return share === null || share >= LEAST_LOW_SHARE ? 'speech' : 'music';
}

/**
 * Mean share, 0 to 1, of the parts of each second that are below half of its mean; null where all is silent.
 */
export function measureLowShare(peaks: SoundPeaks): number | null {
  const length = Math.max(4, Math.round(peaks.columnsPerSecond));
  const shares: number[] = [];
  for (let from = 0; from + length <= peaks.peaks.length; from += length) {
    const second = peaks.peaks.slice(from, from + length);
    const mean = second.reduce((sum, peak) => sum + peak, 0) / length;
    if (mean >= SILENCE) shares.push(second.filter((peak) => peak < mean / 2).length / length);
  }
  return shares.length === 0 ? null : shares.reduce((sum, share) => sum + share, 0) / shares.length;
}
