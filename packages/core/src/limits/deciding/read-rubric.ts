import type { Item } from '../finding/quantities.ts';
import type { Sentence } from '../finding/sentences.ts';
import type { PointsMatch } from './read-points.ts';

/** One criterion of how work is marked. */
export interface RubricPart {
  readonly label: string;
  readonly points: number;
  /** Stretch of the text. */
  readonly start: number;
  readonly end: number;
}

/** Lines before or after the total that are looked through. */
const MOST_LINES = 14;
const DIVIDES = /^(?:[,;:()|+&=]|and|plus|then|total|totals?|worth)$/;
const FILLS = /^(?:\(|for|the|your|on|of|-|:|marks?|points?|pts?|each|x|=|a|an)$/;

/**
 * What the points of the whole are made of: "8 accuracy + 8 rhythm + 4 tone = 20", "Voice 6, movement 6, use
 * of space 8", a line each. Parts are told only where two or more of them add up to the whole.
 */
export function readRubric(
  sentences: readonly Sentence[],
  total: PointsMatch,
  isOfPoints: (sentence: Sentence, index: number) => boolean,
  text: string,
): RubricPart[] {
  const before = sentences.slice(Math.max(0, total.sentence - MOST_LINES), total.sentence).reverse();
  const after = sentences.slice(total.sentence + 1, total.sentence + 1 + MOST_LINES);
  const own = sentences[total.sentence];
  for (const side of ['after', 'before'] as const) {
    const partsOf = (sentence: Sentence) =>
      findParts(sentence, side, isOfPoints, text, sentence === own ? total : null);
    const here = own ? partsOf(own) : [];
    if (isWhole(here, total.points)) return here;
    for (const lines of [before, after]) {
      let parts = here;
      for (const line of lines) {
        const found = partsOf(line);
        parts = lines === before ? [...found, ...parts] : [...parts, ...found];
        if (isWhole(parts, total.points)) return parts;
      }
    }
  }
  return [];
}

const isWhole = (parts: readonly RubricPart[], points: number) =>
  parts.length > 1 && parts.length <= 40 && parts.reduce((sum, each) => sum + each.points, 0) === points;

function findParts(
  sentence: Sentence,
  side: 'before' | 'after',
  isOfPoints: (sentence: Sentence, index: number) => boolean,
  text: string,
  total: PointsMatch | null,
): RubricPart[] {
  return sentence.items.flatMap((item, index) => {
    const [from, to] = sentence.places[index] ?? [0, 0];
    const isTotal = total !== null && from < total.to && to > total.from;
    const isNumber = item.kind === 'quantity' && (item.dimension === 'number' || isOfPoints(sentence, index));
    const points = item.count ?? item.value ?? 0;
    if (isTotal || !isNumber || !(points > 0)) return [];
    const words = findLabel(sentence.items, index, side);
    const [first, last] = [words[0], words.at(-1)];
    if (!first || !last) return [];
    const label = text.slice(first.start, last.end).replace(/\s+/g, ' ').trim().slice(0, 80);
    const [start, end] = [Math.min(first.start, item.start), Math.max(last.end, item.end)];
    return [{ label, points, start, end }];
  });
}

/** The words beside a figure up to the next sign, figure or "and". */
function findLabel(items: readonly Item[], index: number, side: 'before' | 'after'): Item[] {
  const step = side === 'after' ? 1 : -1;
  let at = index + step;
  while (FILLS.test(items[at]?.text ?? '')) at += step;
  const words: Item[] = [];
  for (let item = items[at]; item?.kind === 'word' && !DIVIDES.test(item.text); item = items[at]) {
    words.push(item);
    at += step;
  }
  if (side === 'before') words.reverse();
  while (words.length > 0 && /^(?:for|the|your|is|are|of)$/.test(words[0]?.text ?? '')) words.shift();
  while (words.length > 0 && /^(?:for|the|is|are|of|gets?|worth)$/.test(words.at(-1)?.text ?? ''))
    words.pop();
  return words.length <= 8 ? words : [];
}
