import type { Dimension, Language } from './language.ts';
import type { Item } from './quantities.ts';

/**
 * A sentence or a line of a list, also as one string of words in which quantities stand as `#D3#` (letter
 * of the dimension, index of the item).
 */
export interface Sentence {
  readonly items: readonly Item[];
  readonly tag: string;
  /** Where each item begins and ends in `tag`. */
  readonly places: readonly (readonly [number, number])[];
  readonly start: number;
  readonly end: number;
  /** Blank lines stand before it. */
  readonly isNewParagraph: boolean;
}

const LETTERS: Readonly<Record<Dimension, string>> = {
  duration: 'D',
  bytes: 'B',
  px: 'P',
  lines: 'L',
  fps: 'F',
  hz: 'H',
  lufs: 'U',
  peak: 'K',
  dpi: 'I',
  other: 'O',
  number: 'N',
};

/** Divides items into sentences at full stops, question and exclamation marks, semicolons and line ends. */
export function readSentences(rawItems: readonly Item[], text: string, language: Language): Sentence[] {
  const sentences: Sentence[] = [];
  let current: Item[] = [];
  let breaks = 0;
  const close = () => {
    if (current.some((item) => item.kind !== 'sign')) {
      const items = inheritUnits(current, sentences.at(-1)?.items ?? [], sentences.slice(-4));
      sentences.push(buildSentence(items, breaks > 1));
      breaks = 0;
    }
    current = [];
  };
  rawItems.forEach((item, index) => {
    if (item.kind === 'break') {
      close();
      breaks += 1;
      return;
    }
    const isDot = item.kind === 'sign' && item.text === '.';
    if (isDot && !isFullStop(rawItems, index, text, language)) return;
    const isEnd = item.kind === 'sign' && (isDot || /^[!?;]$/.test(item.text));
    if (isEnd) close();
    else current.push(item);
  });
  close();
  return sentences;
}

function isFullStop(items: readonly Item[], index: number, text: string, language: Language): boolean {
  const [before, dot, after] = [items[index - 1], items[index], items[index + 1]];
  if (!dot || !after || after.kind === 'break') return true;
  if (after.start === dot.end) return false;
  const next = text[after.start] ?? '';
  const word = before?.text.split(' ').at(-1) ?? '';
  return !(
    language.abbreviations.includes(word) &&
    (/[\d\p{Ll}<≤>≥-]/u.test(next) || /^(?:mr|mrs|ms|dr)$/.test(word))
  );
}

function buildSentence(items: readonly Item[], isNewParagraph: boolean): Sentence {
  let tag = '';
  const places: [number, number][] = [];
  items.forEach((item, index) => {
    const [before, after] = [items[index - 1], items[index + 1]];
    const isHyphen =
      item.text === '-' &&
      before?.kind === 'word' &&
      after?.kind === 'word' &&
      before.end === item.start &&
      after.start === item.end;
    const written = isHyphen ? '' : writeItem(item, index);
    if (written !== '' && tag !== '') tag += ' ';
    places.push([tag.length, tag.length + written.length]);
    tag += written;
  });
  return { items, tag, places, start: items[0]?.start ?? 0, end: items.at(-1)?.end ?? 0, isNewParagraph };
}

function writeItem(item: Item, index: number): string {
  if (item.kind === 'quantity') return `#${LETTERS[item.dimension ?? 'number']}${index}#`;
  if (item.kind === 'size') return `#S${index}#`;
  if (item.kind === 'ratio') return `#R${index}#`;
  return item.kind === 'time' ? `#T${index}#` : item.text;
}

/** Text positions of a stretch of `tag`. */
export function findSpan(sentence: Sentence, from: number, to: number): { start: number; end: number } {
  const touched = sentence.items.filter((_, index) => {
    const [start, end] = sentence.places[index] ?? [0, 0];
    return end > from && start < to && end > start;
  });
  return { start: touched[0]?.start ?? sentence.start, end: touched.at(-1)?.end ?? sentence.end };
}

const JOINS = /^(?:to|-|and|or|\/|until|till)$/;
const BETWEEN_BOUNDS =
  /^(?:,|and|but|or|-|\/|max|maximum|minimum|min|at|most|least|to|no|not|more|less|longer|than|then|up|of|a|the|an|is|absolute|very)$/;
const BOUND_BEFORE =
  /^(?:between|from|max|maximum|min|minimum|least|most|than|then|to|over|under|below|above|of|not|within|exceed|-)$/;
const LOOSE_END =
  /^(?:,|\.|\)|\(|and|but|or|please|maximum|max|minimum|min|at|in|for|tops|though|thanks|so|-)$/;

/**
 * Numbers without a unit take it over: "2 to 3 minutes", "min 1, max 2 minutes", "at least a minute but no
 * more than two".
 */
function inheritUnits(
  items: readonly Item[],
  previous: readonly Item[],
  earlier: readonly Sentence[],
): Item[] {
  const result = [...items];
  const isBare = (item: Item | undefined) => item?.kind === 'quantity' && item.dimension === 'number';
  const withUnit = (item: Item, from: Item): Item => {
    const value = (item.count ?? 0) * (from.unit?.factor ?? 1);
    return {
      ...item,
      dimension: from.dimension,
      unit: from.unit,
      value: from.dimension === 'duration' || from.dimension === 'bytes' ? Math.round(value) : value,
      ...(from.isBinary ? { isBinary: true } : {}),
    };
  };
  for (let index = result.length - 1; index >= 0; index -= 1) {
    const item = result[index];
    if (!item || !isBare(item)) continue;
    let at = index + 1;
    while (at < result.length && at - index <= 7 && BETWEEN_BOUNDS.test(result[at]?.text ?? '')) at += 1;
    const target = result[at];
    if (
      !target ||
      target.kind !== 'quantity' ||
      target.dimension === 'number' ||
      target.dimension === 'other' ||
      !target.unit ||
      at === index + 1
    )
      continue;
    const words = result.slice(index + 1, at).map((each) => each.text);
    const isDirect = words.length === 1 && JOINS.test(words[0] ?? '');
    const isBounded =
      BOUND_BEFORE.test(result[index - 1]?.text ?? '') &&
      words.some((word) => /^(?:max|maximum|min|minimum|most|least|than|then|and|to|-)$/.test(word));
    if (isDirect || isBounded) result[index] = withUnit(item, target);
  }
  for (let index = 1; index < result.length; index += 1) {
    const item = result[index];
    const next = result[index + 1];
    if (
      !item ||
      !isBare(item) ||
      !(next === undefined || (next.kind !== 'quantity' && LOOSE_END.test(next.text)))
    )
      continue;
    const before = result
      .slice(Math.max(0, index - 3), index)
      .map((each) => each.text)
      .join(' ');
    const isSettled = SETTLES.test(before);
    if (
      !isSettled &&
      !/(?:than|then|least|most|max|maximum|minimum|up to|over|under|below|past|beyond|not|exceed|ideally|preferably)$/.test(
        before,
      )
    )
      continue;
    const said = isSettled ? earlier.flatMap((sentence) => sentence.items) : [];
    const source = [...said, ...result.slice(0, index)].findLast(
      (each) =>
        each.kind === 'quantity' &&
        each.dimension !== 'number' &&
        each.dimension !== 'other' &&
        each.unit !== undefined,
    );
    if (source) result[index] = withUnit(item, source);
  }
  result.forEach((item, index) => {
    if (!isBare(item)) return;
    const next = result
      .slice(index + 1, index + 7)
      .map((each) => each.text)
      .join(' ');
    const source = IS_BOUND.test(next)
      ? [...previous, ...result.slice(0, index)].findLast(
          (each) =>
            each.kind === 'quantity' &&
            each.dimension !== 'number' &&
            each.dimension !== 'other' &&
            each.unit !== undefined,
        )
      : undefined;
    if (source) result[index] = withUnit(item, source);
    const before = result
      .slice(Math.max(0, index - 8), index)
      .map((each) => each.text)
      .join(' ');
    const glued = result[index - 1];
    if (glued?.dimension === 'lines' && glued.end === item.start)
      result[index] = { ...item, dimension: 'fps', unit: { dimension: 'fps', factor: 1 } };
    const [left, joint] = [result[index - 2], result[index - 1]];
    const isEnd = result[index + 1] === undefined || result[index + 1]?.kind === 'sign';
    if (
      isEnd &&
      left?.kind === 'quantity' &&
      left.dimension !== 'number' &&
      left.dimension !== 'other' &&
      left.unit &&
      joint &&
      /^(?:or|to|-|\/)$/.test(joint.text)
    )
      result[index] = withUnit(item, left);
    const left2 = result
      .slice(0, index)
      .findLast((each) => each.kind === 'quantity' && each.dimension === 'bytes' && each.unit !== undefined);
    if (
      left2 &&
      /^[(,]$/.test(result[index - 1]?.text ?? '') &&
      /^(?:for both|together|in total|altogether|for the (?:lot|set|two|three))\b/.test(next)
    )
      result[index] = withUnit(item, left2);
    const said = UNIT_BEFORE.find(([pattern, , least]) => pattern.test(before) && (item.value ?? 0) >= least);
    if (said) result[index] = { ...item, dimension: said[1], unit: { dimension: said[1], factor: 1 } };
  });
  return result;
}

/** "Please read 12", "the ceiling is 50": the unit was said before. */
const SETTLES = /(?:please read|should read|meant|make (?:it|that)|(?:ceiling|limit|cap|maximum) (?:is|of))$/;
/** "Three is the maximum." */
const IS_BOUND =
  /^is (?:the|my|our|your|an) (?:absolute |very |upper |lower )?(?:max|maximum|limit|min|minimum|least|most|ceiling)\b/;
const LEAD =
  '(?: (?:of|is|at|to|the|a|must|should|has|be|:|=|>|<|≥|≤|> =|< =|least|most|max|min|maximum|minimum|no|not|more|less|than|between|from|exactly|about|around|or))*$';
/** A unit that stands before its number: "frame rate: 30", "fps >= 25", "long edge at least 2000". */
const UNIT_BEFORE: readonly (readonly [RegExp, Dimension, number])[] = [
  [new RegExp(`\\b(?:fps|frame ?rate|framerate)${LEAD}`), 'fps', 5],
  [new RegExp(`\\b(?:dpi|ppi)${LEAD}`), 'dpi', 50],
  [new RegExp(`\\b(?:long(?:est|er)?|short(?:est|er)?) (?:edge|side)${LEAD}`), 'px', 200],
  [new RegExp(`\\b(?:pixels?|px)${LEAD}`), 'px', 200],
];
