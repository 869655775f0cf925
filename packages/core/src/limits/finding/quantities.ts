import type { Dimension, Language, Unit } from './language.ts';
import { readNumber } from './numbers.ts';
import type { Token } from './tokens.ts';

/**
 * One thing of a text: a word, a sign, or a quantity with what it measures. Positions are those of the
 * text.
 */
export interface Item {
  readonly kind: 'word' | 'sign' | 'break' | 'quantity' | 'size' | 'ratio' | 'time';
  readonly start: number;
  readonly end: number;
  readonly text: string;
  readonly dimension?: Dimension;
  /** In the unit of its dimension. */
  readonly value?: number;
  /** The number as it was said, before its unit. */
  readonly count?: number;
  /** Second value of a size (`1920 x 1080`) or a ratio (`16:9`). */
  readonly second?: number;
  readonly unit?: Unit;
  readonly isBinary?: boolean;
  /** "HD": at least this. */
  readonly isLeast?: boolean;
  readonly isArticle?: boolean;
}

const STANDARD_LINES = new Set([144, 240, 360, 480, 540, 576, 720, 900, 1080, 1440, 2160, 4320]);
const TIME_OF_DAY = /^(?:am|pm|a\.m|p\.m|o'clock|oclock|h)$/;
const LINES: Unit = { dimension: 'lines', factor: 1 };

/** Joins numbers with their units into quantities; everything else passes as words and signs. */
export function readItems(tokens: readonly Token[], language: Language): Item[] {
  const items: Item[] = [];
  for (let at = 0; at < tokens.length;) {
    const token = tokens[at] as Token;
    const found =
      readSize(tokens, at) ??
      readClock(tokens, at, items) ??
      readMinutesAndSeconds(tokens, at) ??
      readResolutionWord(tokens, at) ??
      readQuantity(tokens, at, language);
    if (found) {
      items.push(found.item);
      at = found.next;
    } else {
      items.push({
        kind: token.kind === 'number' ? 'word' : token.kind,
        start: token.start,
        end: token.end,
        text: token.text,
      });
      at += 1;
    }
  }
  return items;
}

interface Found {
  readonly item: Item;
  readonly next: number;
}

const spanOf = (tokens: readonly Token[], at: number, next: number) => ({
  start: tokens[at]?.start ?? 0,
  end: tokens[next - 1]?.end ?? 0,
  text: tokens
    .slice(at, next)
    .map((token) => token.text)
    .join(' '),
});

/** `1920 x 1080 px`, `20 by 30 cm` (the unit is told in `unit`). */
function readSize(tokens: readonly Token[], at: number): Found | null {
  const [first, by, second] = [tokens[at], tokens[at + 1], tokens[at + 2]];
  if (
    first?.kind !== 'number' ||
    !(by?.text === 'x' || by?.text === 'by' || by?.text === '*') ||
    second?.kind !== 'number'
  )
    return null;
  const unitWord = tokens[at + 3]?.text ?? '';
  const [width, height] = [Number(first.text.replace(',', '.')), Number(second.text.replace(',', '.'))];
  const isPx = /^(?:px|pixels?)$/.test(unitWord);
  const paper = { mm: 1, cm: 10, in: 25.4, inch: 25.4, inches: 25.4, '"': 25.4 }[unitWord];
  if (!isPx && paper === undefined && (width < 100 || height < 100)) return null;
  const next = isPx || paper !== undefined ? at + 4 : at + 3;
  return {
    next,
    item: {
      kind: 'size',
      ...spanOf(tokens, at, next),
      dimension: paper === undefined ? 'px' : 'other',
      value: width * (paper ?? 1),
      second: height * (paper ?? 1),
    },
  };
}

/** `2:30` and `1:02:03` as lengths, `16:9` as a ratio, `2:30 pm` and `at 14:30` as times of day. */
function readClock(tokens: readonly Token[], at: number, before: readonly Item[]): Found | null {
  const [first, colon, second] = [tokens[at], tokens[at + 1], tokens[at + 2]];
  if (
    first?.kind !== 'number' ||
    colon?.text !== ':' ||
    second?.kind !== 'number' ||
    !colon.isGlued ||
    !second.isGlued
  )
    return null;
  const [left, right] = [first.text, second.text];
  const hasThird =
    tokens[at + 3]?.text === ':' && tokens[at + 4]?.kind === 'number' && (tokens[at + 4]?.isGlued ?? false);
  const third = hasThird ? (tokens[at + 4]?.text ?? '') : null;
  const isRatio =
    third === null && (!/^\d{2}(?:[.,]\d+)?$/.test(right) || ['16:10', '21:10'].includes(`${left}:${right}`));
  let next = hasThird ? at + 5 : at + 3;
  if (isRatio)
    return {
      next,
      item: {
        kind: 'ratio',
        ...spanOf(tokens, at, next),
        value: Number(left.replace(',', '.')),
        second: Number(right),
      },
    };
  const last = before.at(-1)?.text ?? '';
  const twoBefore = before
    .slice(-3)
    .map(({ text }) => text)
    .join(' ');
  const isAtTime =
    /(?:starts?|begins?|meets?|leaves?|back|doors|curtain up|opens?|open|from|(?:mon|tues|wednes|thurs|fri|satur|sun)day?s?)(?: (?:at|by|around))?$/.test(
      twoBefore,
    );
  const isTime =
    isAtTime ||
    TIME_OF_DAY.test(tokens[next]?.text ?? '') ||
    ((/^(?:at|@|by|until|till|from|before|after|between)$/.test(last) ||
      (before.at(-2)?.kind === 'time' && /^(?:and|to|-)$/.test(last))) &&
      Number(left) >= 6 &&
      third === null &&
      !/^(?:min|mins|minutes|m)$/.test(tokens[next]?.text ?? ''));
  if (isTime) return { next, item: { kind: 'time', ...spanOf(tokens, at, next) } };
  const parts = [left, right, ...(third === null ? [] : [third])].map((part) =>
    Number(part.replace(',', '.')),
  );
  const seconds = parts.reduce((total, part) => total * 60 + part, 0);
  if (/^(?:mins?|minutes?|m|hrs?|hours?)$/.test(tokens[next]?.text ?? '')) next += 1;
  return {
    next,
    item: {
      kind: 'quantity',
      ...spanOf(tokens, at, next),
      dimension: 'duration',
      value: Math.round(seconds * 1e6),
      count: seconds,
      unit: { dimension: 'duration', factor: 1e6 },
    },
  };
}

/** `2'30"`, `2m30s`, `1h 20 min`. */
function readMinutesAndSeconds(tokens: readonly Token[], at: number): Found | null {
  const [first, mark, second] = [tokens[at], tokens[at + 1], tokens[at + 2]];
  if (first?.kind !== 'number' || !mark?.isGlued || second?.kind !== 'number' || !second.isGlued) return null;
  const [left, right] = [Number(first.text.replace(',', '.')), Number(second.text.replace(',', '.'))];
  const build = (seconds: number, next: number): Found => ({
    next,
    item: {
      kind: 'quantity',
      ...spanOf(tokens, at, next),
      dimension: 'duration',
      value: Math.round(seconds * 1e6),
      count: seconds,
      unit: { dimension: 'duration', factor: 1e6 },
    },
  });
  const after = tokens[at + 3];
  if (mark.text === "'")
    return build(
      left * 60 + right,
      after?.text === '"' || (after?.text === "'" && tokens[at + 4]?.text === "'")
        ? after.text === '"'
          ? at + 4
          : at + 5
        : at + 3,
    );
  if (/^(?:m|min|mins)$/.test(mark.text))
    return build(left * 60 + right, after?.isGlued && /^(?:s|sec|secs)$/.test(after.text) ? at + 4 : at + 3);
  if (/^(?:h|hr)$/.test(mark.text))
    return build(
      left * 3600 + right * 60,
      after?.isGlued && /^(?:m|min|mins)$/.test(after.text) ? at + 4 : at + 3,
    );
  return null;
}

/** `full HD`, `4K`, `HD`, `1080p`. */
function readResolutionWord(tokens: readonly Token[], at: number): Found | null {
  const [first, second] = [tokens[at], tokens[at + 1]];
  const build = (lines: number, next: number, isLeast = false): Found => ({
    next,
    item: {
      kind: 'quantity',
      ...spanOf(tokens, at, next),
      dimension: 'lines',
      value: lines,
      count: lines,
      unit: LINES,
      ...(isLeast ? { isLeast } : {}),
    },
  });
  if (first?.kind === 'number' && second?.isGlued) {
    if ((second.text === 'p' || second.text === 'i') && STANDARD_LINES.has(Number(first.text)))
      return build(Number(first.text), at + 2);
    if (second.text === 'k' && (first.text === '4' || first.text === '8'))
      return build(first.text === '4' ? 2160 : 4320, at + 2);
  }
  if (first?.kind === 'word') {
    if (
      (first.text === 'full' || first.text === 'ultra') &&
      tokens[at + (second?.text === '-' ? 2 : 1)]?.text === 'hd'
    )
      return build(first.text === 'full' ? 1080 : 2160, at + (second?.text === '-' ? 3 : 2));
    if (first.text === 'fhd') return build(1080, at + 1);
    if (first.text === 'uhd') return build(2160, at + 1);
    if (first.text === 'hd') return build(720, at + 1, true);
  }
  return null;
}

function readUnit(
  tokens: readonly Token[],
  at: number,
  language: Language,
): { unit: Unit; next: number; word: string } | null {
  const from = tokens[at]?.text === '-' && tokens[at + 1]?.kind === 'word' ? at + 1 : at;
  const token = tokens[from];
  if (!token) return null;
  const text = tokens
    .slice(from, from + 6)
    .map((each) => each.text)
    .join(' ');
  for (const [pattern, unit] of language.longUnits) {
    const match = pattern.exec(text.replace(/ \/ /g, ' / '));
    if (match) return { unit, next: from + match[0].trim().split(' ').length, word: match[0] };
  }
  const unit =
    token.kind === 'word'
      ? language.units[token.text.replace(/'s$/, '')]
      : token.text === '%'
        ? language.units['%']
        : undefined;
  return unit ? { unit, next: from + 1, word: token.text } : null;
}

/**
 * A number with its unit, or a number alone. `a minute and a half`, `two minutes thirty`, `minus 16 LUFS`,
 * `£4.50`.
 */
function readQuantity(tokens: readonly Token[], at: number, language: Language): Found | null {
  const sign = tokens[at];
  const isMinus =
    (sign?.text === '-' &&
      tokens[at + 1]?.kind === 'number' &&
      tokens[at + 1]?.isGlued &&
      tokens[at - 1]?.kind !== 'number' &&
      tokens[at - 1]?.text !== '/' &&
      !(sign.isGlued && tokens[at - 1]?.kind === 'word')) ||
    (sign?.text === 'minus' && tokens[at - 1]?.text !== 'or');
  if (sign && /^[£€$#]$/.test(sign.text) && tokens[at + 1]?.kind === 'number')
    return {
      next: at + 2,
      item: { kind: 'quantity', ...spanOf(tokens, at, at + 2), dimension: 'other', value: 0, count: 0 },
    };
  const numberAt = isMinus ? at + 1 : at;
  const isArticle = !isMinus && language.articles.includes(sign?.text ?? '');
  let number = readNumber(tokens, numberAt, language);
  if (!number && isArticle) {
    const unit = readUnit(tokens, at + 1, language);
    if (!unit || !['duration', 'bytes'].includes(unit.unit.dimension) || !isArticleUnit(unit.word))
      return null;
    number = { value: 1, next: at + 1 };
  }
  if (!number) return null;
  // "Under 14s" are children.
  const isAge =
    /^(?:under|over|u)$/.test(tokens[at - 1]?.text ?? '') &&
    tokens[number.next]?.text === 's' &&
    number.value >= 5 &&
    number.value <= 21 &&
    tokens[number.next + 1]?.kind === 'word';
  const unit = isAge ? null : readUnit(tokens, number.next, language);
  const value = isMinus ? -number.value : number.value;
  if (!unit) {
    if (tokens[number.next]?.text === 'lines' && STANDARD_LINES.has(number.value))
      return {
        next: number.next + 1,
        item: {
          kind: 'quantity',
          ...spanOf(tokens, at, number.next + 1),
          dimension: 'lines',
          value: number.value,
          count: number.value,
          unit: LINES,
        },
      };
    return {
      next: number.next,
      item: {
        kind: 'quantity',
        ...spanOf(tokens, at, number.next),
        dimension: 'number',
        value,
        count: value,
      },
    };
  }
  if (number.isShareOfUnit && !['duration', 'bytes'].includes(unit.unit.dimension)) return null;
  // "a second" as an ordinal: "a second take", "the one second movement"
  if (
    unit.word === 'second' &&
    number.value === 1 &&
    isArticle &&
    !isSecondOfTime(tokens[unit.next]?.text ?? '')
  )
    return null;
  let total = value * unit.unit.factor;
  let { next } = unit;
  if (unit.unit.dimension === 'duration' || unit.unit.dimension === 'bytes') {
    const tail = [0, 1, 2].map((offset) => tokens[next + offset]?.text ?? '');
    if (
      tail[0] === language.and &&
      language.articles.includes(tail[1] ?? '') &&
      (language.half.includes(tail[2] ?? '') || language.quarter.includes(tail[2] ?? ''))
    ) {
      total += unit.unit.factor * (language.half.includes(tail[2] ?? '') ? 0.5 : 0.25);
      next += 3;
    } else if (unit.unit.dimension === 'duration' && unit.unit.factor > 1e6) {
      const restAt = tokens[next]?.text === language.and || tokens[next]?.text === ',' ? next + 1 : next;
      const rest = readNumber(tokens, restAt, language);
      const restUnit = rest ? readUnit(tokens, rest.next, language) : null;
      if (
        rest &&
        restUnit?.unit.dimension === 'duration' &&
        restUnit.unit.factor < unit.unit.factor &&
        (restAt === next || tokens[next]?.text === language.and)
      ) {
        total += rest.value * restUnit.unit.factor;
        next = restUnit.next;
      } else if (
        rest &&
        (restAt === next || (unit.unit.factor === 3600e6 && tokens[next]?.text === language.and)) &&
        !restUnit &&
        rest.value >= 5 &&
        rest.value < 60 &&
        (unit.unit.factor === 60e6 || unit.unit.factor === 3600e6) &&
        isEndOfQuantity(tokens[rest.next])
      ) {
        total += (rest.value * unit.unit.factor) / 60;
        next = rest.next;
      }
    }
  }
  const rounded =
    unit.unit.dimension === 'duration'
      ? Math.round(total)
      : unit.unit.dimension === 'bytes'
        ? Math.floor(total + 1e-6)
        : total;
  return {
    next,
    item: {
      kind: 'quantity',
      ...spanOf(tokens, at, next),
      dimension: unit.unit.dimension,
      value: rounded,
      count: value,
      unit: unit.unit,
      ...(unit.unit.isBinary ? { isBinary: true } : {}),
      ...(isArticle ? { isArticle } : {}),
    },
  };
}

const isArticleUnit = (word: string) =>
  /^(?:second|minute|min|hour|meg|megabyte|gig|gigabyte|kilobyte)$/.test(word);
const isSecondOfTime = (word: string) => /^(?:or|at|max|maximum|long|,|\.|of|and|to|)$/.test(word);
const isEndOfQuantity = (token: Token | undefined) =>
  !token ||
  token.kind !== 'word' ||
  /^(?:um|uh|so|please|but|then|including|for|is|per|each|to|max|maximum|or|and|at|long|minimum|min|in)$/.test(
    token.text,
  );
