import type { MediaKind } from '../../media/containers.ts';
import type { Limit, LimitTarget } from '../limit.ts';
import { readBounded } from './bounds.ts';
import { cleanText } from './clean-text.ts';
import { CORRECTION, findSeverity, findTarget, readHeading, readTextContext, type TextContext } from './context.ts';
import { english } from './english.ts';
import { findWishes, type Wish } from './find-wishes.ts';
import type { Understood } from './found.ts';
import { mergeLimits, type Conflict, type LimitSpan, type PlacedLimit } from './merge-limits.ts';
import { readItems } from './quantities.ts';
import { readCounts } from './read-counts.ts';
import { readDates } from './read-dates.ts';
import { readFormats } from './read-formats.ts';
import { readInView } from './read-in-view.ts';
import { readNames } from './read-names.ts';
import { hasSeveralSizes, readQuantityLimit, readShapeLimits } from './read-quantity-limits.ts';
import { readWordLimits } from './read-word-limits.ts';
import { findSpan, readSentences, type Sentence } from './sentences.ts';
import { createMender, readTokens } from './tokens.ts';

export interface ReadLimits {
  readonly limits: Limit[];
  /** Which stretch of the text each limit came from; positions in UTF-16 units of the text as given. */
  readonly spans: LimitSpan[];
  /** What looks like a demand and was not understood. */
  readonly notUnderstood: Wish[];
  readonly conflicts: Conflict[];
}

const mend = createMender(english);
/** Limits that apply to one kind of file wherever they stand. */
const PHOTO_ONLY = new Set<Limit['kind']>(['print-resolution']);
const TARGETED = new Set<Limit['kind']>(['file-size', 'length', 'picture-edge', 'channels', 'frame-rate', 'sample-rate', 'orientation', 'aspect', 'loudness', 'print-resolution']);

/**
 * Reads instructions in prose into limits, by rule and table, offline and deterministic. Never throws; numbers come from the text or from
 * names of resolutions in it. `now` (wall clock, `2026-11-24T09:00`) is what "tomorrow" is counted from; without it due times are not read.
 */
export function readLimits(text: string, now: string | null): ReadLimits {
  const cleaned = cleanText(text);
  const dates = now === null ? [] : readDates(cleaned, now);
  const masked = dates.reduce((line, date) => `${line.slice(0, date.start)}§${' '.repeat(date.end - date.start - 1)}${line.slice(date.end)}`, cleaned);
  const sentences = readSentences(readItems(readTokens(masked, mend), english), text, english);
  const context = readTextContext(sentences, english);
  const found: PlacedLimit[] = [];
  const understood: Understood[] = [];
  const unread: Understood[] = [];
  const sentenceOf = (start: number) => findSentence(sentences, start);
  const isCorrected = (index: number) => CORRECTION.test(sentences[index]?.tag ?? '') || isBareCorrection(sentences[index - 1]);

  for (const date of dates) found.push({ raw: { kind: 'due', at: date.at, hasTime: date.hasTime }, start: date.start, end: date.end, severity: 'must', isCorrection: isCorrected(sentenceOf(date.start)), sentence: sentenceOf(date.start) });
  for (const name of readNames(text, cleaned)) found.push({ raw: { kind: 'file-name', pattern: name.pattern }, start: name.start, end: name.end, severity: 'must', isCorrection: isCorrected(sentenceOf(name.start)), sentence: sentenceOf(name.start) });

  let heading: MediaKind | null = null;
  sentences.forEach((sentence, index) => {
    if (sentence.isNewParagraph) heading = null;
    heading = readHeading(sentence, context) ?? heading;
    readSentence(sentence, index, heading, context, { found, understood, unread, isCorrection: isCorrected(index) });
  });
  found.sort((left, right) => left.sentence - right.sentence || left.start - right.start);
  const merged = mergeLimits(found, text);
  const known = [...understood, ...merged.spans, ...found];
  return { ...merged, notUnderstood: findWishes(sentences, known, unread, text) };
}

/** Index of the sentence that a position lies in. */
function findSentence(sentences: readonly Sentence[], position: number): number {
  let low = 0;
  let high = sentences.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((sentences[middle]?.start ?? 0) <= position) low = middle + 1;
    else high = middle;
  }
  return Math.max(0, low - 1);
}

/** "Correction:" or "Sorry." as a sentence of its own speaks of the next one. */
function isBareCorrection(sentence: Sentence | undefined): boolean {
  return sentence !== undefined && !/#[DBPLFHUKIN]/.test(sentence.tag) && sentence.tag.split(' ').length <= 8 && CORRECTION.test(sentence.tag) && /\b(?:correction|update|edit|ignore|scrap|forget|sorry|changed my mind|actually)\b/.test(sentence.tag);
}

interface Sink {
  readonly found: PlacedLimit[];
  readonly understood: Understood[];
  readonly unread: Understood[];
  readonly isCorrection: boolean;
}

function readSentence(sentence: Sentence, index: number, heading: MediaKind | null, context: TextContext, sink: Sink): void {
  const add = (raw: PlacedLimit['raw'], from: number, to: number, target?: LimitTarget, severity: PlacedLimit['severity'] = findSeverity(sentence, from, to)) => {
    const appliesTo = target ?? (PHOTO_ONLY.has(raw.kind) && context.kinds.size > 1 ? 'photo' : TARGETED.has(raw.kind) ? findTarget(sentence, from, to, context, heading) : 'any');
    sink.found.push({ raw: appliesTo === 'any' ? raw : { ...raw, appliesTo }, ...findSpan(sentence, from, to), severity, isCorrection: sink.isCorrection, sentence: index });
  };
  const counted = sentence.tag.includes('#N') ? readCounts(sentence, context) : [];
  for (const count of counted) add({ kind: 'count', item: count.item, min: count.min, max: count.max, alternative: count.alternative }, count.from, count.to, 'any');
  for (const bounded of readBounded(sentence)) {
    const span = findSpan(sentence, bounded.from, bounded.to);
    if (bounded.isDropped) {
      sink.understood.push(span);
      continue;
    }
    if (bounded.item.dimension === 'number' && counted.some((count) => count.from < bounded.to && count.to > bounded.from)) continue;
    const reading = readQuantityLimit({ sentence, bounded, context, heading });
    if (reading === 'unread') sink.unread.push(span);
    else if (reading !== 'nothing') for (const raw of reading) add(raw, bounded.from, bounded.to);
  }
  for (const item of sentence.items) if (item.dimension === 'other' && /(?:bit|megapixels?|mp|mbps|kbps)$/.test(item.text)) sink.unread.push({ start: item.start, end: item.end });
  if (hasSeveralSizes(sentence)) for (const item of sentence.items) if (item.kind === 'size') sink.unread.push({ start: item.start, end: item.end });
  for (const shape of readShapeLimits(sentence)) add(shape.raw, shape.from, shape.to);
  for (const words of [...readWordLimits(sentence), ...readInView(sentence)]) {
    if (words.raw) add(words.raw, words.from, words.to, undefined, words.severity);
    else sink.understood.push(findSpan(sentence, words.from, words.to));
  }
  const mentions = readFormats(sentence, context);
  const groups = new Map<string, typeof mentions>();
  const isMixed = mentions.some((mention, at) => mention.isJoined && mention.appliesTo !== mentions[at - 1]?.appliesTo && mention.what.type === 'format' && mentions[at - 1]?.what.type === 'format');
  const chain: string[] = [];
  mentions.forEach((mention, at) => {
    const own = `${mention.what.type}|${mention.appliesTo}`;
    chain.push(isMixed && mention.isJoined && mention.what.type === mentions[at - 1]?.what.type ? (chain[at - 1] ?? own) : own);
    const key = chain[at] ?? own;
    groups.set(key, [...(groups.get(key) ?? []), mention]);
  });
  for (const group of groups.values()) {
    const ids = (isWanted: boolean) => [...new Set(group.filter((mention) => mention.isWanted === isWanted).map((mention) => mention.what.id))];
    const [first, last] = [group[0], group.at(-1)];
    if (first && last) add({ kind: first.what.type, wanted: ids(true), refused: ids(false) }, first.from, last.to, group.every((mention) => mention.appliesTo === first.appliesTo) ? first.appliesTo : 'any', ids(true).length > 1 ? 'must' : undefined);
  }
}
