import { readInstructions, type Limit, type ReaderModels } from '@apodix/core';
import { execa } from 'execa';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import type { Row } from '../benchmark.ts';
import { chooseLikelier } from '../../tests/reading/measure-reading.ts';
import { readJudgedSet, setNames, sharedFolder, type JudgedText } from './judged-texts.ts';
import { writeJudgeShape } from './judge-shape.ts';
import { trainReader } from './train.ts';

const Score = z.object({ tp: z.number(), fp: z.number(), fn: z.number() });
const Judged = z.object({
  texts: z.number(),
  textsExact: z.number(),
  overall: Score,
  fields: z.record(z.string(), Score),
  misses: z.array(
    z.object({
      id: z.string(),
      field: z.string(),
      type: z.enum(['missed', 'invented']),
      value: z.string(),
      got: z.string().optional(),
    }),
  ),
});
type Judged = z.infer<typeof Judged>;

/** The sets take today to be this. */
const NOW = '2027-01-10T12:00';
const FOLDS = 6;

export interface CrossValidation {
  readonly bySet: Row[];
  readonly byField: Row[];
}

/**
 * Reads every text of the shared sets with models that have not seen it: once in folds over all sets, once
 * with
 * a whole set left out. The rules are the same for all. Null where the shared sets are not there.
 */
export async function crossValidate(): Promise<CrossValidation | null> {
  const sets = setNames.flatMap((name) => {
    const texts = readJudgedSet(name);
    return texts ? [{ name, texts }] : [];
  });
  if (sets.length === 0) return null;
  const all = sets.flatMap(({ name, texts }) => texts.map((text) => ({ name, text })));
  const folded = new Map<string, ReadOne[]>();
  for (let fold = 0; fold < FOLDS; fold += 1) {
    const models = trainReader(all.filter((_, at) => at % FOLDS !== fold).map(({ text }) => text));
    for (const [at, { name, text }] of all.entries())
      if (at % FOLDS === fold) folded.set(name, [...(folded.get(name) ?? []), readOne(text, models)]);
  }
  const bySet: Row[] = [];
  const fields = new Map<string, z.infer<typeof Score>>();
  for (const { name, texts } of sets) {
    const inFolds = await judgeBoth(name, folded.get(name) ?? []);
    const without = trainReader(all.filter((each) => each.name !== name).map(({ text }) => text));
    const leftOut = await judgeBoth(
      name,
      texts.map((text) => readOne(text, without)),
    );
    for (const [field, score] of Object.entries(inFolds.fields)) {
      const sum = fields.get(field) ?? { tp: 0, fp: 0, fn: 0 };
      fields.set(field, { tp: sum.tp + score.tp, fp: sum.fp + score.fp, fn: sum.fn + score.fn });
    }
    bySet.push(describe(name, 'in six folds', inFolds), describe(name, 'set left out', leftOut));
  }
  const byField = [...fields.entries()]
    .sort(([one], [two]) => (one < two ? -1 : 1))
    .map(([field, score]) => ({
      field,
      right: score.tp,
      invented: score.fp,
      missed: score.fn,
      ...rate(score),
    }));
  return { bySet, byField };
}

interface ReadOne {
  /** Limits, with the likelier reading of each open question: what a person sees first. */
  readonly told: unknown;
  /** What counts without a word to the person: neither asked nor told as a contradiction. */
  readonly silent: unknown;
  readonly limits: number;
  readonly asks: number;
}

function readOne({ id, text }: JudgedText, models: ReaderModels): ReadOne {
  const { limits, questions, conflicts } = readInstructions(text, { now: NOW, models });
  const answers = chooseLikelier(questions);
  const answered = readInstructions(text, { now: NOW, models, answers }).limits;
  const counted = questions.flatMap(({ isCounted, readings: [{ limit }] }) =>
    isCounted && limit ? [`${limit.kind} ${limit.appliesTo}`] : [],
  );
  const isSilent = (limit: Limit) =>
    !conflicts.some(({ limitIds }) => limitIds.includes(limit.id)) &&
    !counted.includes(`${limit.kind} ${limit.appliesTo}`);
  return {
    told: writeJudgeShape(id, answered),
    silent: writeJudgeShape(id, limits.filter(isSilent)),
    limits: answered.length,
    asks: questions.length,
  };
}

interface JudgedBoth extends Judged {
  readonly silentMisses: Judged['misses'];
  readonly asked: string;
}

async function judgeBoth(name: string, read: readonly ReadOne[]): Promise<JudgedBoth> {
  const told = await judge(
    name,
    read.map((each) => each.told),
  );
  const silent = await judge(
    name,
    read.map((each) => each.silent),
  );
  const sum = (pick: (each: ReadOne) => number) => read.reduce((total, each) => total + pick(each), 0);
  const asked = `${sum(({ asks }) => asks)} of ${sum(({ limits }) => limits)}`;
  return { ...told, silentMisses: silent.misses, asked };
}

async function judge(name: string, predictions: readonly unknown[]): Promise<Judged> {
  const folder = await mkdtemp(join(tmpdir(), 'apodix-reading-'));
  try {
    const path = join(folder, 'predictions.json');
    await writeFile(path, JSON.stringify(predictions));
    const set = join(sharedFolder, `${name}.json`);
    const { stdout } = await execa('node', [join(sharedFolder, 'judge.mjs'), path, '--set', set, '--json'], {
      reject: false,
    });
    return Judged.parse(JSON.parse(stdout));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

const share = (part: number, whole: number) => Number((whole === 0 ? 1 : part / whole).toFixed(3));
const rate = ({ tp, fp, fn }: z.infer<typeof Score>) => ({
  precision: share(tp, tp + fp),
  recall: share(tp, tp + fn),
});

/** What a file would be refused or spoiled by, and nobody would see why. */
const MUSTS = new Set([
  'duration.minSec',
  'duration.maxSec',
  'size',
  'picture.orientation',
  'picture.minHeight',
  'picture.maxHeight',
  'picture.longEdgeMin',
  'picture.longEdgeMax',
  'picture.fps',
  'due',
  'notFormats',
]);

function describe(
  set: string,
  how: string,
  { overall, silentMisses: misses, texts, textsExact, asked }: JudgedBoth,
): Row {
  const invented = misses.filter(({ type }) => type === 'invented');
  const wrong = invented.filter(({ field }) => MUSTS.has(field));
  // The same figure on the other side.
  const inverted = invented.filter(({ id, field, value }) =>
    misses.some(
      (miss) =>
        miss.id === id && miss.type === 'missed' && miss.value === value && isOpposite(field, miss.field),
    ),
  );
  return {
    set,
    how,
    ...rate(overall),
    'texts fully right': `${textsExact} of ${texts}`,
    asked,
    'silent wrong musts': wrong.length,
    inverted: inverted.length,
  };
}

const isOpposite = (one: string, other: string) =>
  one !== other &&
  one.replace(/min/i, '').replace(/max/i, '') === other.replace(/min/i, '').replace(/max/i, '');
