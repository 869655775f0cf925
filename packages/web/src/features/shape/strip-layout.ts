import type { TimeRange } from '@apodix/core';

/** The stretch of a take that a strip of `widthPx` shows. */
export interface StripScale {
  readonly widthPx: number;
  readonly view: TimeRange;
}

/** Where an instant lies on a strip; outside of it for what it does not show. */
export function placeInstant({ widthPx, view }: StripScale, instantUs: number): number {
  const lengthUs = view.finishUs - view.startUs;
  return lengthUs <= 0 ? 0 : ((instantUs - view.startUs) / lengthUs) * widthPx;
}

/** The instant at a place of a strip, inside what it shows. */
export function readInstant({ widthPx, view }: StripScale, xPx: number): number {
  if (widthPx <= 0) return view.startUs;
  const share = Math.min(widthPx, Math.max(0, xPx)) / widthPx;
  return Math.round(view.startUs + share * (view.finishUs - view.startUs));
}

/** A view that is nearer by `factor` (farther below 1) with one instant where it was; inside the take. */
export function zoomView(
  view: TimeRange,
  factor: number,
  aboutUs: number,
  bounds: { readonly durationUs: number; readonly leastUs: number },
): TimeRange {
  const lengthUs = view.finishUs - view.startUs;
  const next = Math.max(
    Math.min(bounds.leastUs, bounds.durationUs),
    Math.min(bounds.durationUs, lengthUs / factor),
  );
  const share = lengthUs > 0 ? (aboutUs - view.startUs) / lengthUs : 0.5;
  return moveView({ startUs: 0, finishUs: next }, aboutUs - share * next, bounds.durationUs);
}

/** A view of the same length that begins at an instant, inside the take. */
export function moveView(view: TimeRange, startUs: number, durationUs: number): TimeRange {
  const lengthUs = Math.min(durationUs, view.finishUs - view.startUs);
  const from = Math.max(0, Math.min(durationUs - lengthUs, startUs));
  return { startUs: Math.round(from), finishUs: Math.round(from + lengthUs) };
}

/** The view moved just so far that an instant is in it. */
export function showInstant(view: TimeRange, instantUs: number, durationUs: number): TimeRange {
  if (instantUs >= view.startUs && instantUs <= view.finishUs) return view;
  const lengthUs = view.finishUs - view.startUs;
  return moveView(view, instantUs < view.startUs ? instantUs : instantUs - lengthUs, durationUs);
}

/** Figures at even steps as columns over a view, each the highest of what it covers. */
export function buildColumns(
  values: readonly number[],
  perSecond: number,
  view: TimeRange,
  count: number,
): number[] {
  if (values.length === 0 || count <= 0) return [];
  const stepUs = (view.finishUs - view.startUs) / count;
  return Array.from({ length: count }, (_, index) => {
    const from = Math.floor(((view.startUs + index * stepUs) * perSecond) / 1e6);
    const to = Math.max(from + 1, Math.floor(((view.startUs + (index + 1) * stepUs) * perSecond) / 1e6));
    let highest = 0;
    for (let at = Math.max(0, from); at < Math.min(values.length, to); at += 1)
      highest = Math.max(highest, values[at] ?? 0);
    return highest;
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
