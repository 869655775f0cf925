/** A stretch of a text, in UTF-16 units. */
export interface Stretch {
  readonly start: number;
  readonly end: number;
}

/**
 * Stretches of a text after it was edited: what lies behind the edit moves with it, what was touched by it is
 * gone. The edit is found as what differs between the common beginning and the common end.
 */
export function shiftStretches<S extends Stretch>(
  stretches: readonly S[],
  before: string,
  after: string,
): S[] {
  let same = 0;
  const most = Math.min(before.length, after.length);
  while (same < most && before[same] === after[same]) same += 1;
  let ends = 0;
  while (ends < most - same && before[before.length - 1 - ends] === after[after.length - 1 - ends]) ends += 1;
  const [from, to, moved] = [same, before.length - ends, after.length - before.length];
  return stretches.flatMap((each) => {
    if (each.end < from || (each.end === from && from === to && moved === 0)) return [each];
    if (each.end === from && !/\S/.test(after[from] ?? ' ')) return [each];
    return each.start >= to && (each.start > from || to > from)
      ? [{ ...each, start: each.start + moved, end: each.end + moved }]
      : [];
  });
}

/** A text divided where stretches begin and end; they do not overlap. */
export function divideText(
  text: string,
  stretches: readonly Stretch[],
): { readonly text: string; readonly isMarked: boolean }[] {
  const parts: { text: string; isMarked: boolean }[] = [];
  let at = 0;
  for (const { start, end } of stretches.toSorted((one, other) => one.start - other.start)) {
    if (start > at) parts.push({ text: text.slice(at, start), isMarked: false });
    parts.push({ text: text.slice(start, end), isMarked: true });
    at = end;
  }
  if (at < text.length) parts.push({ text: text.slice(at), isMarked: false });
  return parts;
}
