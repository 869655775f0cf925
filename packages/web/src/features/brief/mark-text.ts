import type { Limit, ReadLimits } from '@apodix/core';

export interface TextPart {
  readonly text: string;
  readonly start: number;
  /** The limit that was read from these words. */
  readonly limitId: string | null;
  /** A demand that was not understood. */
  readonly isWish: boolean;
  /** The open question that these words raise. */
  readonly questionId: string | null;
}

interface Span {
  readonly start: number;
  readonly end: number;
  readonly limitId: string | null;
  readonly questionId: string | null;
}

/**
 * Divides instructions into plain text, the words that limits came from, and wishes that nobody has
 * understood. Words are found by the reader's own spans where it read the same kind of limit there, else by
 * searching for the quoted words. Nothing overlaps.
 */
export function markText(
  instructions: string,
  limits: readonly Limit[],
  read: Pick<ReadLimits, 'spans' | 'limits' | 'notUnderstood' | 'questions'>,
): TextPart[] {
  const spans: Span[] = [];
  const isFree = (start: number, end: number) =>
    spans.every((span) => start >= span.end || end <= span.start);
  const add = (start: number, end: number, limitId: string | null, questionId: string | null = null) => {
    if (end > start && isFree(start, end)) spans.push({ start, end, limitId, questionId });
  };
  for (const { id, start, end, answer } of read.questions) if (answer === null) add(start, end, null, id);
  const kindOf = new Map(read.limits.map((limit) => [limit.id, limit.kind]));
  const used = new Set<string>();
  // "An MP4" tells an item and its format: the more particular one is marked.
  const isCount = ({ kind }: Limit) => Number(kind === 'count');
  for (const limit of limits.toSorted((left, right) => isCount(left) - isCount(right))) {
    const at = limit.words === null ? -1 : findWords(instructions, limit.words, spans);
    if (limit.words !== null && at >= 0) add(at, at + limit.words.length, limit.id);
    const same = read.spans.filter(
      (span) => kindOf.get(span.limitId) === limit.kind && !used.has(`${span.start}`),
    );
    const own = same.filter((span) =>
      limit.words === null
        ? false
        : limit.words.includes(instructions.slice(span.start, span.end).replace(/\s+/g, ' ').trim()) ||
          at < 0,
    );
    for (const span of own) {
      used.add(`${span.start}`);
      add(span.start, span.end, limit.id);
    }
  }
  for (const wish of read.notUnderstood) add(wish.start, wish.end, null);
  spans.sort((left, right) => left.start - right.start);
  const parts: TextPart[] = [];
  let at = 0;
  for (const span of spans) {
    if (span.start > at) parts.push(buildPlain(instructions.slice(at, span.start), at));
    parts.push({
      text: instructions.slice(span.start, span.end),
      start: span.start,
      limitId: span.limitId,
      isWish: span.limitId === null && span.questionId === null,
      questionId: span.questionId,
    });
    at = span.end;
  }
  if (at < instructions.length) parts.push(buildPlain(instructions.slice(at), at));
  return parts;
}

const buildPlain = (text: string, start: number): TextPart => ({
  ...{ text, start, limitId: null, isWish: false, questionId: null },
});

function findWords(text: string, words: string, taken: readonly Span[]): number {
  for (let at = text.indexOf(words); at >= 0; at = text.indexOf(words, at + 1))
    if (taken.every((span) => at >= span.end || at + words.length <= span.start)) return at;
  return -1;
}
