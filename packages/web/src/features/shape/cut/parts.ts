import type { RecipeSpan, TimeRange } from '@apodix/core';

/** Shorter parts cannot be made by a press at the wrong moment. */
const LEAST_PART_US = 100_000;

/** The parts that are kept, in their order: all of the take where none is named. */
export function listParts(spans: readonly RecipeSpan[], whole: TimeRange): RecipeSpan[] {
  return spans.length > 0 ? [...spans] : [{ source: 0, ...whole }];
}

/**
 * Divides the part of the take itself that a moment lies in; the same parts where that would leave too little
 * of either.
 */
export function splitParts(parts: readonly RecipeSpan[], atUs: number): RecipeSpan[] {
  const index = parts.findIndex(
    (part) =>
      part.source === 0 && atUs - part.startUs >= LEAST_PART_US && part.finishUs - atUs >= LEAST_PART_US,
  );
  const part = parts[index];
  if (!part) return [...parts];
  return [
    ...parts.slice(0, index),
    { ...part, finishUs: atUs },
    // Where a part was divided nothing goes over into anything.
    { source: part.source, startUs: atUs, finishUs: part.finishUs },
    ...parts.slice(index + 1),
  ];
}

/** Without one part; the last one stays. */
export function removePart(parts: readonly RecipeSpan[], index: number): RecipeSpan[] {
  return parts.length <= 1 ? [...parts] : parts.filter((_, each) => each !== index);
}

/** With one part in another place of the order. */
export function reorderParts(parts: readonly RecipeSpan[], from: number, to: number): RecipeSpan[] {
  const part = parts[from];
  if (!part || to < 0 || to >= parts.length) return [...parts];
  const rest = parts.filter((_, index) => index !== from);
  return [...rest.slice(0, to), part, ...rest.slice(to)];
}

/** What is left out of a take, in ascending order. */
export function listLeftOut(parts: readonly TimeRange[], durationUs: number): TimeRange[] {
  const out: TimeRange[] = [];
  let fromUs = 0;
  for (const part of [...parts].sort((left, right) => left.startUs - right.startUs)) {
    if (part.startUs > fromUs) out.push({ startUs: fromUs, finishUs: part.startUs });
    fromUs = Math.max(fromUs, part.finishUs);
  }
  if (fromUs < durationUs) out.push({ startUs: fromUs, finishUs: durationUs });
  return out;
}

/** How long all parts are together: what two of them share counts once. */
export function measureParts(parts: readonly (TimeRange & { readonly dissolveUs?: number })[]): number {
  return parts.reduce((sum, part, index) => {
    const before = parts[index - 1];
    const lengthUs = part.finishUs - part.startUs;
    const mostUs = before ? Math.min(lengthUs, before.finishUs - before.startUs) / 2 : 0;
    return sum + lengthUs - Math.min(part.dissolveUs ?? 0, mostUs);
  }, 0);
}

/** The same parts, one of them beginning with a dissolve of so long, or with a cut. */
export function dissolveInto(parts: readonly RecipeSpan[], index: number, us: number | null): RecipeSpan[] {
  return parts.map((part, each) => {
    if (each !== index) return part;
    const { source, startUs, finishUs } = part;
    return { source, startUs, finishUs, ...(us === null ? {} : { dissolveUs: us }) };
  });
}
