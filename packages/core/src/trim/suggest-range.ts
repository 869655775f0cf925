import type { SoundPeaks } from '../media/analysis.ts';
import type { PerformanceSpan } from '../media/performance-span.ts';
import { BREATH } from '../suggest/suggest-performance.ts';
import type { TimeRange } from '../time/range.ts';

export interface RangeSuggestion {
  readonly range: TimeRange;
  readonly startReason: string;
  readonly finishReason: string;
  /** By how much it is longer than is allowed: where to cut is for a person to say; 0 where it is not. */
  readonly overUs: number;
}

export interface RangeBounds {
  readonly minUs: number | null;
  readonly maxUs: number | null;
}

const UNSURE = ['not sure where it begins: listen for yourself', 'not sure where it ends'] as const;
/** Ends quieter than the performance by this much are no part of it. */
const CONTRAST_DB = 20;
/** Ends shorter than this are left as they are. */
const LEAST_TRIM_US = 1_500_000;

/**
 * Suggests which part of a take to keep: from just before the performance to just after it, inside the wanted
 * length. Goes by `performance` where that is known, else by the sound's peaks alone: from the first
 * sustained sound to the last. Without sound, or where the ends are not clearly quieter than the rest, all of
 * it stays. The result lies inside [0, durationUs]; a performance that is longer than `bounds.maxUs` stays
 * whole, and `overUs` says by how much.
 */
export function suggestRange(
  durationUs: number,
  peaks: SoundPeaks | null,
  bounds: RangeBounds,
  performance: PerformanceSpan | 'unsure' | null = null,
): RangeSuggestion {
  const performed = choosePerformance(durationUs, peaks, performance);
  let startUs = performed && performed.startUs > LEAST_TRIM_US ? performed.startUs - BREATH.beforeUs : 0;
  let finishUs =
    performed && durationUs - performed.finishUs > LEAST_TRIM_US
      ? Math.min(durationUs, performed.finishUs + BREATH.afterUs)
      : durationUs;
  const known = performance === 'unsure' ? null : performance;
  let startReason = startUs > 0 ? (known?.startReason ?? 'first sound') : 'start of the take';
  let finishReason =
    finishUs < durationUs ? (known?.finishReason ?? 'last sound has died away') : 'end of the take';
  if (performance === 'unsure') [startReason, finishReason] = UNSURE;

  const missingUs = (bounds.minUs ?? 0) - (finishUs - startUs);
  if (missingUs > 0 && durationUs > finishUs - startUs) {
    const later = Math.min(missingUs, durationUs - finishUs);
    finishUs += later;
    startUs = Math.max(0, startUs - (missingUs - later));
    startReason = startUs === 0 ? 'start of the take' : startReason;
    finishReason = 'kept longer to reach the least length';
  }
  if (bounds.maxUs !== null && performed) {
    // The breath around a performance gives way before the performance does.
    const overUs = Math.max(0, finishUs - startUs - bounds.maxUs);
    const after = Math.min(overUs, Math.max(0, finishUs - performed.finishUs));
    finishUs -= after;
    startUs += Math.min(overUs - after, Math.max(0, performed.startUs - startUs));
  }
  const overUs = bounds.maxUs === null ? 0 : Math.max(0, finishUs - startUs - bounds.maxUs);
  return { range: { startUs, finishUs }, startReason, finishReason, overUs };
}

/** What was found along the whole take; where nobody looked that closely, what its peaks tell. */
function choosePerformance(
  durationUs: number,
  peaks: SoundPeaks | null,
  performance: PerformanceSpan | 'unsure' | null,
): TimeRange | null {
  if (performance === 'unsure') return null;
  return performance ?? (peaks ? findPerformance(peaks, durationUs) : null);
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
