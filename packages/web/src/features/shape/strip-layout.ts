import type { TimeRange } from '@apodix/core';

/** Where an instant lies on a strip of `widthPx`, and back. */
export interface StripScale {
  readonly widthPx: number;
  readonly durationUs: number;
}

export function placeInstant(scale: StripScale, instantUs: number): number {
  return scale.durationUs <= 0
    ? 0
    : (Math.min(scale.durationUs, Math.max(0, instantUs)) / scale.durationUs) * scale.widthPx;
}

export function readInstant(scale: StripScale, xPx: number): number {
  return scale.widthPx <= 0
    ? 0
    : Math.round((Math.min(scale.widthPx, Math.max(0, xPx)) / scale.widthPx) * scale.durationUs);
}

/**
 * The peaks as columns of a given step, each the highest of what it covers; heights 0 to 1 on a square-root
 * scale.
 */
export function buildColumns(peaks: readonly number[], count: number): number[] {
  if (peaks.length === 0 || count <= 0) return [];
  return Array.from({ length: count }, (_, index) => {
    const from = Math.floor((index * peaks.length) / count);
    const to = Math.max(from + 1, Math.floor(((index + 1) * peaks.length) / count));
    return Math.sqrt(peaks.slice(from, to).reduce((highest, peak) => Math.max(highest, peak), 0));
  });
}

/** Moves one end of a range to an instant; the other end stays and at least `leastUs` remain. */
export function moveEnd(
  range: TimeRange,
  end: 'start' | 'finish',
  instantUs: number,
  bounds: { durationUs: number; leastUs: number },
): TimeRange {
  if (end === 'start')
    return {
      startUs: Math.max(0, Math.min(instantUs, range.finishUs - bounds.leastUs)),
      finishUs: range.finishUs,
    };
  return {
    startUs: range.startUs,
    finishUs: Math.min(bounds.durationUs, Math.max(instantUs, range.startUs + bounds.leastUs)),
  };
}
