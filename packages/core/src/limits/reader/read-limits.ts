import { findInText, type FoundQuantity } from '../deciding/candidates.ts';
import type { Mention } from '../finding/find-mentions.ts';
import type { MediaKind } from '../../media/containers.ts';
import type { Limit, LimitTarget } from '../limit.ts';
import {
  CORRECTION,
  MENDS,
  findSeverity,
  findTarget,
  type Target,
  type TextContext,
} from '../deciding/context.ts';
import { findWishes, type Wish } from '../deciding/find-wishes.ts';
import type { Doubt, RawLimit, Understood } from '../deciding/found.ts';
import { mergeLimits, type Conflict, type LimitSpan, type PlacedLimit } from '../deciding/merge-limits.ts';
import { readCounts, type CountMatch } from '../deciding/read-counts.ts';
import { decideDue } from '../deciding/decide-due.ts';
import { readerModels, type ReaderModels } from '../deciding/models.ts';
import { decideSlots } from '../deciding/decide-slots.ts';
import { readPoints } from '../deciding/read-points.ts';
import { readRubric } from '../deciding/read-rubric.ts';
import { readFormats } from '../deciding/read-formats.ts';
import { readInView } from '../deciding/read-in-view.ts';
import { readNames } from '../deciding/read-names.ts';
import { hasSeveralSizes, readQuantityLimit, readShapeLimits } from '../deciding/read-quantity-limits.ts';
import { readWordLimits } from '../deciding/read-word-limits.ts';
import { findSpan, type Sentence } from '../finding/sentences.ts';
import type { Answers } from '../answers.ts';
import { settleDoubts, type Question } from './questions.ts';

export interface ReadLimits {
  readonly limits: Limit[];
  /** Which stretch of the text each limit came from; positions in UTF-16 units of the text as given. */
  readonly spans: LimitSpan[];
  /** What looks like a demand and was not understood. */
  readonly notUnderstood: Wish[];
  readonly conflicts: Conflict[];
  /** What can be understood in two ways; what is open and not counted is not among the limits. */
  readonly questions: Question[];
  /** Name of the language that it was read as, where that is one on trial; null for English. */
  readonly trial: string | null;
}

export interface HowToRead {
  readonly models?: ReaderModels | undefined;
  /** Readings that were chosen where words can be understood in two ways. */
  readonly answers?: Answers | undefined;
  /** What comes first in `3/4` where no other word of the text tells. */
  readonly isMonthFirst?: boolean;
}

/** Limits that apply to one kind of file wherever they stand. */
const PHOTO_ONLY = new Set<Limit['kind']>(['print-resolution']);
const TIMED: readonly MediaKind[] = ['video', 'sound'];
const ALL: readonly MediaKind[] = ['video', 'sound', 'photo', 'document'];
/** Words by which a day is one of handing in, where nothing else is said to be wanted. */
const HANDED = /\b(?:due|deadline|hand\w*|submi\w+|upload\w*|turn(?:ed)? (?:it )?in|send)\b/;
const DUE: Doubt = { about: 'due', other: null };
const askDay = (raw: RawLimit, at: string): Doubt => ({ about: 'day', other: { ...raw, at } });
/** What is asked about where nothing says which of several files it is for. */
const ASKED_FOR = new Set<Limit['kind']>(['file-size', 'length']);
const HANDED_IN: Doubt = { about: 'handed-in', other: null };
/** Of which kinds of file a limit can be. */
const TARGETED: Readonly<Partial<Record<Limit['kind'], readonly MediaKind[]>>> = {
  'file-size': ALL,
  length: TIMED,
  'picture-edge': ['video', 'photo', 'document'],
  channels: TIMED,
  'frame-rate': ['video'],
  'sample-rate': TIMED,
  orientation: ['video', 'photo', 'document'],
  aspect: ['video', 'photo', 'document'],
  loudness: TIMED,
  'print-resolution': ['photo', 'document'],
};

/**
 * Reads instructions in prose into limits, by rule and table, offline and deterministic. Never throws;
 * numbers come from the text or from
 * names of resolutions in it. `now` (wall clock, `2026-11-24T09:00`) is what "tomorrow" is counted from;
 * without it due times are not read.
 */
export function readLimits(
  text: string,
  now: string | null,
  { models = readerModels, answers = {}, isMonthFirst = false }: HowToRead = {},
): ReadLimits {
  const whole = findInText(text, now, isMonthFirst);
  const { cleaned, sentences, context, days, relative, mentions, cuesOf, headings, quantities } = whole;
  const found: PlacedLimit[] = [];
  const understood: Understood[] = [];
  const unread: Understood[] = [];
  const sentenceOf = (start: number) => findSentence(sentences, start);
  const isCorrected = (index: number) =>
    CORRECTION.test(sentences[index]?.tag ?? '') || isBareCorrection(sentences[index - 1]);

  const place = (raw: PlacedLimit['raw'], start: number, end: number, doubt?: Doubt) =>
    found.push({
      raw,
      doubt,
      start,
      end,
      severity: 'must',
      isCorrection: isCorrected(sentenceOf(start)),
      sentence: sentenceOf(start),
    });
  const counted: (CountMatch & { sentence: number })[] = [];
  sentences.forEach((sentence, index) => {
    readSentence(
      sentence,
      index,
      headings[index] ?? null,
      context,
      quantities.filter((each) => each.sentence === index),
      {
        found,
        understood,
        unread,
        counted,
        models,
        mentions: mentions.filter((each) => each.sentence === index),
        isCorrection: isCorrected(index),
      },
    );
  });
  const slots = decideSlots({ mentions, sentences, cuesOf, counted, isCorrection: isCorrected, models });
  const isNothingWanted = slots.length === 0 && found.length === 0;
  const isOnlyDated = (start: number) =>
    isNothingWanted && !HANDED.test(sentences[sentenceOf(start)]?.tag ?? '');
  for (const slot of slots) {
    const sentence = sentences[slot.sentence];
    if (!sentence) continue;
    const span = findSpan(sentence, slot.from, slot.to);
    place(
      { kind: 'count', item: slot.item, min: slot.min, max: slot.max, alternative: slot.alternative },
      span.start,
      span.end,
    );
  }
  if (now !== null && days.length > 0) {
    const due = decideDue(days, sentences, cleaned, isCorrected);
    if (due) {
      const raw = { kind: 'due', at: due.at, hasTime: due.hasTime } as const;
      const isDoubtful = !due.isSure || isOnlyDated(due.start);
      place(raw, due.start, due.end, isDoubtful ? DUE : due.other ? askDay(raw, due.other) : undefined);
    }
  }
  for (const date of relative)
    place(
      { kind: 'due', at: date.at, hasTime: date.hasTime },
      date.start,
      date.end,
      isOnlyDated(date.start) ? DUE : undefined,
    );
  for (const name of readNames(text, cleaned))
    found.push({
      raw: { kind: 'file-name', pattern: name.pattern },
      start: name.start,
      end: name.end,
      severity: 'must',
      isCorrection: isCorrected(sentenceOf(name.start)),
      sentence: sentenceOf(name.start),
    });

  const isOfPoints = (sentence: Sentence, index: number) =>
    /(?:^| |-)(?:pts?|points?|marks?)$/.test(sentence.items[index]?.text ?? '');
  const points = readPoints(sentences, isOfPoints);
  if (points) {
    const sentence = sentences[points.sentence];
    if (sentence) {
      const span = findSpan(sentence, points.from, points.to);
      const rubric = readRubric(sentences, points, isOfPoints, text);
      understood.push(...rubric);
      const parts = rubric.map(({ label, points: each }) => ({ label, points: each }));
      place({ kind: 'points', points: points.points, rubric: parts }, span.start, span.end);
    }
  }
  found.sort((left, right) => left.sentence - right.sentence || left.start - right.start);
  const { counted: sure, questions } = settleDoubts(found, answers, text);
  const merged = mergeLimits(sure, text);
  const known = [...understood, ...merged.spans, ...found];
  return {
    ...merged,
    notUnderstood: findWishes(sentences, known, unread, text),
    questions,
    trial: whole.trial,
  };
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
  return (
    sentence !== undefined &&
    !/#[DBPLFHUKIN]/.test(sentence.tag) &&
    sentence.tag.split(' ').length <= 8 &&
    CORRECTION.test(sentence.tag) &&
    /\b(?:correction|update|edit|ignore|scrap|forget|sorry|changed my mind|actually)\b/.test(sentence.tag)
  );
}

interface Sink {
  readonly found: PlacedLimit[];
  readonly understood: Understood[];
  readonly unread: Understood[];
  readonly counted: (CountMatch & { sentence: number })[];
  readonly mentions: readonly Mention[];
  readonly models: ReaderModels;
  readonly isCorrection: boolean;
}

function readSentence(
  sentence: Sentence,
  index: number,
  heading: MediaKind | null,
  context: TextContext,
  quantities: readonly FoundQuantity[],
  sink: Sink,
): void {
  const add = (
    raw: PlacedLimit['raw'],
    from: number,
    to: number,
    target?: LimitTarget,
    severity: PlacedLimit['severity'] = findSeverity(sentence, from, to),
    doubt?: Doubt,
  ) => {
    const isPhotoOnly = PHOTO_ONLY.has(raw.kind) && context.kinds.size > 1;
    const allowed = TARGETED[raw.kind];
    const found: Target =
      target !== undefined || isPhotoOnly || !allowed
        ? { target: (target ?? (isPhotoOnly ? 'photo' : 'any')) as Target['target'], rival: null }
        : findTarget(sentence, from, to, context, heading, allowed, sink.mentions);
    const appliesTo = target ?? found.target;
    const rival = ASKED_FOR.has(raw.kind) ? found.rival : null;
    const which: Doubt | undefined =
      rival === null ? undefined : { about: 'which', other: { ...raw, appliesTo: rival } };
    sink.found.push({
      raw: appliesTo === 'any' ? raw : { ...raw, appliesTo },
      ...findSpan(sentence, from, to),
      severity,
      doubt: doubt ?? which,
      isCorrection: sink.isCorrection,
      sentence: index,
    });
  };
  const counted = sentence.tag.includes('#N') ? readCounts(sentence, context) : [];
  for (const count of counted) sink.counted.push({ ...count, sentence: index });
  let last: { readonly dimension: string; readonly to: number } | null = null;
  for (const { bounded, features } of quantities) {
    const span = findSpan(sentence, bounded.from, bounded.to);
    if (bounded.isDropped) {
      sink.understood.push(span);
      continue;
    }
    if (
      bounded.item.dimension === 'number' &&
      counted.some((count) => count.from < bounded.to && count.to > bounded.from)
    )
      continue;
    const dimension = bounded.item.dimension ?? '';
    // "Five, sorry, I meant seven": the second is about the same thing as the first.
    const isMended = last?.dimension === dimension && MENDS.test(sentence.tag.slice(last.to, bounded.from));
    const reading = readQuantityLimit({
      isMended,
      sentence,
      bounded,
      context,
      heading,
      features,
      models: sink.models,
    });
    if (reading === 'unread') sink.unread.push(span);
    else if (reading !== 'nothing') {
      const { from, to } = bounded;
      last = { dimension, to };
      const doubt = 'doubtful' in reading ? HANDED_IN : undefined;
      for (const raw of 'doubtful' in reading ? reading.doubtful : reading)
        add(raw, from, to, undefined, undefined, doubt);
    }
  }
  for (const item of sentence.items)
    if (item.dimension === 'other' && /(?:bit|megapixels?|mp|mbps|kbps)$/.test(item.text))
      sink.unread.push({ start: item.start, end: item.end });
  if (hasSeveralSizes(sentence))
    for (const item of sentence.items)
      if (item.kind === 'size') sink.unread.push({ start: item.start, end: item.end });
  for (const shape of readShapeLimits(sentence)) add(shape.raw, shape.from, shape.to);
  for (const words of [...readWordLimits(sentence), ...readInView(sentence)]) {
    if (words.raw) add(words.raw, words.from, words.to, undefined, words.severity);
    else sink.understood.push(findSpan(sentence, words.from, words.to));
  }
  const mentions = readFormats(sentence, context);
  const groups = new Map<string, typeof mentions>();
  const isMixed = mentions.some(
    (mention, at) =>
      mention.isJoined &&
      mention.appliesTo !== mentions[at - 1]?.appliesTo &&
      mention.what.type === 'format' &&
      mentions[at - 1]?.what.type === 'format',
  );
  const chain: string[] = [];
  mentions.forEach((mention, at) => {
    const own = `${mention.what.type}|${mention.appliesTo}`;
    chain.push(
      isMixed && mention.isJoined && mention.what.type === mentions[at - 1]?.what.type
        ? (chain[at - 1] ?? own)
        : own,
    );
    const key = chain[at] ?? own;
    groups.set(key, [...(groups.get(key) ?? []), mention]);
  });
  for (const group of groups.values()) {
    const ids = (isWanted: boolean) => [
      ...new Set(group.filter((mention) => mention.isWanted === isWanted).map((mention) => mention.what.id)),
    ];
    const [first, last] = [group[0], group.at(-1)];
    if (first && last)
      add(
        { kind: first.what.type, wanted: ids(true), refused: ids(false) },
        first.from,
        last.to,
        group.every((mention) => mention.appliesTo === first.appliesTo) ? first.appliesTo : 'any',
        ids(true).length > 1 ? 'must' : undefined,
      );
  }
}
