import type { SoundPeaks } from '../media/analysis.ts';
import type { TimeRange } from '../time/range.ts';

export interface RangeSuggestion {
  readonly range: TimeRange;
  readonly startReason: string;
  readonly finishReason: string;
  /** The longest allowed length made the finish come before the performance ends. */
  readonly cutsPerformance: boolean;
}

export interface RangeBounds {
  readonly minUs: number | null;
  readonly maxUs: number | null;
}

/** Room left before the first and after the last sound of the performance. */
const LEAD_IN_US = 500_000;
const LEAD_OUT_US = 1_000_000;
/** Ends quieter than the performance by this much are no part of it. */
const CONTRAST_DB = 20;
/** Ends shorter than this are left as they are. */
const LEAST_TRIM_US = 1_500_000;

/**
 * Suggests which part of a take to keep: from just before the first sustained sound to just after the last
 * one, inside the wanted length. Works on the sound alone; without sound, or where the ends are not clearly
 * quieter than the rest, the whole take stays. The result lies inside [0, durationUs] and never exceeds
 * `bounds.maxUs`.
 */
export function suggestRange(
  durationUs: number,
  peaks: SoundPeaks | null,
  bounds: RangeBounds,
): RangeSuggestion {
  const performed = peaks ? findPerformance(peaks, durationUs) : null;
  let startUs = performed && performed.startUs > LEAST_TRIM_US ? performed.startUs - LEAD_IN_US : 0;
  let finishUs =
    performed && durationUs - performed.finishUs > LEAST_TRIM_US
      ? Math.min(durationUs, performed.finishUs + LEAD_OUT_US)
      : durationUs;
  let startReason = startUs > 0 ? 'first sound' : 'start of the take';
  let finishReason = finishUs < durationUs ? 'last sound has died away' : 'end of the take';

  const missingUs = (bounds.minUs ?? 0) - (finishUs - startUs);
  if (missingUs > 0 && durationUs > finishUs - startUs) {
    const later = Math.min(missingUs, durationUs - finishUs);
    finishUs += later;
    startUs = Math.max(0, startUs - (missingUs - later));
    startReason = startUs === 0 ? 'start of the take' : startReason;
    finishReason = 'kept longer to reach the least length';
  }
  const isTooLong = bounds.maxUs !== null && finishUs - startUs > bounds.maxUs;
  if (bounds.maxUs !== null && isTooLong) {
    finishUs = startUs + bounds.maxUs;
    finishReason = 'the longest that is allowed';
  }
  const cutsPerformance = isTooLong && finishUs < (performed?.finishUs ?? durationUs);
  return { range: { startUs, finishUs }, startReason, finishReason, cutsPerformance };
}

/** The first and last moment of sustained sound; null where sound and ends cannot be told apart. */
function findPerformance(peaks: SoundPeaks, durationUs: number): TimeRange | null {
  const columnUs = 1_000_000 / peaks.columnsPerSecond;
  const levels = peaks.peaks.map((peak) => 20 * Math.log10(Math.max(peak, 1e-5)));
  if (levels.length < 4) return null;
  const sorted = [...levels].sort((left, right) => left - right);
  const performanceDb = sorted[Math.floor(sorted.length * 0.9)] ?? -100;
  if (performanceDb < -60) return null;
  const thresholdDb = performanceDb - CONTRAST_DB;
  const window = Math.max(1, Math.round(peaks.columnsPerSecond));
  const isSustained = (from: number) => {
    const span = levels.slice(Math.max(0, from), from + window);
    return span.filter((level) => level >= thresholdDb).length * 3 >= span.length;
  };
  const first = levels.findIndex((level, index) => level >= thresholdDb && isSustained(index));
  const last = levels.findLastIndex(
    (level, index) => level >= thresholdDb && isSustained(index - window + 1),
  );
  if (first < 0 || last < first) return null;
  const range = {
    startUs: Math.round(first * columnUs),
    finishUs: Math.min(durationUs, Math.round((last + 1) * columnUs)),
  };
  return range.finishUs - range.startUs < durationUs * 0.4 ? null : range;
}
