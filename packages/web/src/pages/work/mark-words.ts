import type { Limit } from '@apodix/core';

export interface TextPart {
  readonly text: string;
  readonly limitId: string | null;
}

/** Divides instructions into plain text and the words that a limit came from (the first place where they stand, no overlaps). */
export function markWords(instructions: string, limits: readonly Limit[]): TextPart[] {
  const spans: { start: number; finish: number; limitId: string }[] = [];
  for (const limit of limits) {
    if (!limit.words) continue;
    for (let start = instructions.indexOf(limit.words); start >= 0; start = instructions.indexOf(limit.words, start + 1)) {
      const finish = start + limit.words.length;
      if (spans.some((span) => start < span.finish && finish > span.start)) continue;
      spans.push({ start, finish, limitId: limit.id });
      break;
    }
  }
  spans.sort((left, right) => left.start - right.start);
  const parts: TextPart[] = [];
  let at = 0;
  for (const span of spans) {
    if (span.start > at) parts.push({ text: instructions.slice(at, span.start), limitId: null });
    parts.push({ text: instructions.slice(span.start, span.finish), limitId: span.limitId });
    at = span.finish;
  }
  if (at < instructions.length) parts.push({ text: instructions.slice(at), limitId: null });
  return parts;
}
