import { readInstructions, type Answers, type Question } from '@apodix/core';
import type { SampleText } from './texts.ts';
import { writeLimit } from './write-limit.ts';

export interface KindRow {
  readonly kind: string;
  right: number;
  missed: number;
  invented: number;
}

export interface ReadingResult {
  readonly rows: readonly KindRow[];
  readonly precision: number;
  readonly recall: number;
  readonly wishesFound: number;
  readonly wishesWanted: number;
  /** Share of what was read that a person is asked about. */
  readonly asked: number;
  readonly faults: readonly {
    text: string;
    missed: readonly string[];
    invented: readonly string[];
    wishes: readonly string[];
  }[];
}

/** Formats in one order, the target left out where the expectation names none. */
function normalize(written: string): string {
  return written.replace(/[a-z0-9|]+\|[a-z0-9|]+/g, (list) => list.split('|').sort().join('|'));
}
const dropTarget = (written: string) => written.replace(/ \[[a-z]+\]/, '');

/** The likelier reading of every question. */
export const chooseLikelier = (questions: readonly Question[]): Answers =>
  Object.fromEntries(questions.map(({ id }) => [id, 0]));

/** Reads every text and compares with what was expected by hand. */
export function measureReading(texts: readonly SampleText[], now: string): ReadingResult {
  const rows = new Map<string, KindRow>();
  const rowOf = (written: string) => {
    const kind = written.split(' ')[0] ?? '';
    const row = rows.get(kind) ?? { kind, right: 0, missed: 0, invented: 0 };
    rows.set(kind, row);
    return row;
  };
  const faults: ReadingResult['faults'][number][] = [];
  let [wishesFound, wishesWanted, asked, told] = [0, 0, 0, 0];
  for (const { text, asks, wishes = [] } of texts) {
    const { questions } = readInstructions(text, { now });
    asked += questions.length;
    // What is asked counts as found where the likelier reading is right.
    const read = readInstructions(text, { now, answers: chooseLikelier(questions) });
    told += read.limits.length;
    const left = read.limits.map((limit) => normalize(writeLimit(limit)));
    const missed: string[] = [];
    for (const ask of asks.map(normalize)) {
      const at = left.findIndex(
        (written) => written === ask || (!/\[/.test(ask) && dropTarget(written) === ask),
      );
      if (at >= 0) left.splice(at, 1);
      else missed.push(ask);
      rowOf(ask)[at >= 0 ? 'right' : 'missed'] += 1;
    }
    // Items are labelled where a number tells how many; of texts that ask for something, others are not
    // judged.
    const hasAsks = asks.length > 0;
    const invented = left.filter((written) => !(hasAsks && written.startsWith('count ')));
    for (const written of invented) rowOf(written).invented += 1;
    const lostWishes = wishes.filter(
      (wish) => !read.notUnderstood.some((each) => text.slice(each.start, each.end).includes(wish)),
    );
    wishesWanted += wishes.length;
    wishesFound += wishes.length - lostWishes.length;
    if (missed.length || invented.length || lostWishes.length)
      faults.push({ text, missed, invented, wishes: lostWishes });
  }
  const sum = (field: 'right' | 'missed' | 'invented') =>
    [...rows.values()].reduce((total, row) => total + row[field], 0);
  return {
    rows: [...rows.values()].sort((one, two) => (one.kind < two.kind ? -1 : 1)),
    precision: sum('right') / Math.max(1, sum('right') + sum('invented')),
    recall: sum('right') / Math.max(1, sum('right') + sum('missed')),
    wishesFound,
    wishesWanted,
    asked: asked / Math.max(1, told),
    faults,
  };
}
