import {
  findInText,
  fitLinearModel,
  listKinds,
  type HandedKind,
  type LabelledExample,
  type ReaderModels,
} from '@apodix/core';
import { sets as ownSets } from '../../tests/reading/all-texts.ts';
import { READ_AT } from '../../tests/reading/texts.ts';
import type { JudgedText } from './judged-texts.ts';

interface Labelled {
  readonly text: string;
  readonly now: string;
  /** Kinds that are to be handed in; null where the labels do not tell all of them. */
  readonly kinds: ReadonlySet<string> | null;
  /** Kinds that could be defended. */
  readonly openKinds: ReadonlySet<string>;
  /** Lengths in seconds, and sizes in bytes, that the labels name; null where they leave it open. */
  readonly seconds: readonly number[] | null;
  readonly bytes: readonly number[] | null;
  readonly worth: number;
}

const KINDS: Readonly<Record<string, HandedKind>> = { audio: 'sound', pdf: 'document', image: 'photo' };
const readKinds = (slots: readonly { readonly kind: string }[] | '*' | undefined) =>
  slots === '*'
    ? new Set<string>(['video', 'sound', 'photo', 'document', 'text', 'link'])
    : new Set<string>((slots ?? []).map(({ kind }) => KINDS[kind] ?? kind));

/** A text of the shared sets. */
function labelJudged({ text, expect, allow }: JudgedText): Labelled {
  const { minSec, maxSec, approx } = expect.duration ?? {};
  const known = [minSec, maxSec, ...(approx && minSec !== undefined ? [minSec / 0.9] : [])];
  return {
    text,
    now: '2027-01-10T12:00',
    kinds: readKinds(expect.slots),
    openKinds: readKinds(allow?.slots),
    seconds: allow?.duration === undefined ? known.filter((each) => each !== undefined) : null,
    bytes: allow?.size === undefined ? (expect.size ?? []).map(({ maxBytes }) => maxBytes) : null,
    worth: 1,
  };
}

const SCALES: Readonly<Record<string, number>> = { kB: 1e3, MB: 1e6, MiB: 2 ** 20 };

/** In the tenth set every item is labelled; in those before only such as are told by number. */
function readOwnKinds(set: string, asks: readonly string[]): ReadonlySet<string> | null {
  if (asks.length === 0) return new Set();
  if (set !== 'tenth') return null;
  const counted = asks.filter((ask) => ask.startsWith('count ')).map((ask) => ask.split(' ')[1] ?? '');
  return counted.length > 0 ? new Set(counted) : null;
}

/**
 * One of our own texts: its short form names lengths and sizes, but only such items as are told by number.
 */
function labelOwn(set: string, text: string, asks: readonly string[]): Labelled {
  const of = (kind: RegExp) =>
    asks.filter((ask) => kind.test(ask)).map((ask) => ask.replace(/ \[.*\]|\?$/g, ''));
  const toSeconds = (words: string) => words.split(':').reduce((total, part) => total * 60 + Number(part), 0);
  return {
    text,
    now: READ_AT,
    // A text that asks for nothing asks for no item; where items are labelled, these are all.
    kinds: readOwnKinds(set, asks),
    openKinds: new Set(),
    seconds: of(/^length /).flatMap((ask) =>
      ask
        .replace(/^length [=~]?/, '')
        .split('..')
        .filter(Boolean)
        .map(toSeconds),
    ),
    bytes: of(/^(?:size|total) /).flatMap((ask) =>
      [...ask.matchAll(/(\d+(?:\.\d+)?)(kB|MB|MiB)/g)].map((each) =>
        Math.round(Number(each[1]) * (SCALES[each[2] ?? ''] ?? 1)),
      ),
    ),
    worth: set === 'tenth' ? 1 : 0.7,
  };
}

/** Learns from the shared texts given and our own: what is learned hangs on nothing else. */
export function trainReader(
  judged: readonly JudgedText[],
  own: readonly string[] = Object.keys(ownSets),
): ReaderModels {
  const texts = [
    ...judged.map(labelJudged),
    ...Object.entries(ownSets)
      .filter(([name]) => own.includes(name))
      .flatMap(([name, each]) => each.map(({ text, asks }) => labelOwn(name, text, asks))),
  ];
  const examples: Record<keyof ReaderModels, LabelledExample[]> = { slot: [], duration: [], bytes: [] };
  for (const { text, now, kinds, openKinds, seconds, bytes, worth } of texts) {
    const found = findInText(text, now);
    for (const { kind, features } of kinds === null ? [] : listKinds(found)) {
      const isSo = kinds?.has(kind) === true;
      if (isSo || !openKinds.has(kind))
        examples.slot.push({ features, isSo, worth: isSo ? worth : 2 * worth });
    }
    for (const { bounded, features } of found.quantities) {
      const { item, min, max, isDropped } = bounded;
      if (isDropped) continue;
      const near = (
        value: number | null | undefined,
        wanted: readonly number[],
        scale: number,
        most: number,
      ) => typeof value === 'number' && wanted.some((each) => Math.abs(each - value / scale) <= most);
      const isOf = (wanted: readonly number[], scale: number, most: number) =>
        [item.value, min, max].some((value) => near(value, wanted, scale, most));
      if (item.dimension === 'duration' && seconds !== null)
        examples.duration.push({ features, isSo: isOf(seconds, 1e6, 0.6), worth });
      if (item.dimension === 'bytes' && bytes !== null)
        examples.bytes.push({ features, isSo: isOf(bytes, 1, 1), worth });
    }
  }
  return {
    slot: fitLinearModel(examples.slot),
    duration: fitLinearModel(examples.duration, { penalty: 0.01 }),
    bytes: fitLinearModel(examples.bytes, { penalty: 0.01 }),
  };
}
