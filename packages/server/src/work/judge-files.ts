import {
  isEveryMustMet,
  judgeMade,
  readCeilings,
  readInView,
  readPieceInView,
  readPlanRecipe,
  simplifyRecipe,
  type Finding,
  type FitChoice,
  type JudgeContext,
  type Limits,
  type MadeOrigin,
  type MediaKind,
  type Recipe,
} from '@apodix/core';
import { MadeRow, TakeRow } from '../data/models.ts';
import { hashInput } from '../queue/hash-input.ts';
import { Remembered } from './remembered.ts';

/** Raised whenever the same input would be made or proven otherwise. */
const PIPELINE_VERSION = 2;
const MOST_REMEMBERED = 20_000;

/** What decides how a file is made. */
export interface MakeInputs {
  readonly sha256: string;
  readonly kind: MediaKind;
  readonly recipe: Recipe;
  readonly choice: FitChoice | null;
  readonly limits: Limits;
  readonly subject: string;
  readonly slotId: string | null;
}

/**
 * What decides how a file is made, as one hash: take, recipe, choice, what the limits leave open for such a
 * file, and the subject. A name that is wanted, a due time or the like are not part of it, so that a change
 * there makes nothing anew; no series is read for it.
 */
export function hashMakeInputs(inputs: MakeInputs): string {
  const { sha256, kind, recipe, choice, limits, subject, slotId } = inputs;
  const ceilings = (['sound', kind] as const).map((each) => ({
    ...readCeilings(limits, each, { slotId }),
    namePattern: null,
  }));
  return hashInput({
    version: PIPELINE_VERSION,
    take: sha256,
    recipe: simplifyRecipe(recipe),
    choice,
    ceilings,
    subject,
  });
}

/** The findings of a made file against the limits as they are now; what the proof found stays. */
export function judgeAnew(
  row: Pick<MadeRow, 'facts' | 'fileName' | 'findings' | 'plan'>,
  take: Pick<TakeRow, 'facts'> | undefined,
  context: JudgeContext,
): Finding[] {
  return [
    ...judgeMade(row.facts, row.fileName, readOrigin(row, take), context),
    ...row.findings.filter((finding) => finding.of === 'proof'),
  ];
}

/**
 * What is known of the recording that a made file comes from: the kept part as its findings told, else all of
 * it.
 */
function readOrigin(
  row: Pick<MadeRow, 'findings' | 'plan'>,
  take: Pick<TakeRow, 'facts'> | undefined,
): MadeOrigin {
  const told = row.findings.find((finding) => finding.of === 'limit' && finding.kind === 'no-clipping');
  const whole = take?.facts?.sound?.clippedCount ?? null;
  const kept = told?.unit === 'place' ? told.value : told?.state === 'met' ? 0 : whole;
  return {
    spanCount: Math.max(1, readPlanRecipe(row.plan).spans.length),
    clippedCount: whole === 0 ? 0 : kept,
    continuity: take?.facts?.continuity ?? null,
    inView: take?.facts ? readInView(take.facts, readPlanRecipe(row.plan).spans) : null,
    pieceInView: take?.facts ? readPieceInView(take.facts, readPlanRecipe(row.plan)) : null,
  };
}

export interface MadeVerdict {
  readonly isEveryMustMet: boolean;
  readonly likeness: string | null;
}

const verdicts = new Remembered<MadeVerdict>(MOST_REMEMBERED);

/**
 * Whether a made file meets every must as the limits are now, and how it looks. The bytes of a made file
 * never change, so an answer holds for as long as its name and the context are the same.
 *
 * @param contextKey Says all that limits, names of the context and what was seen along the take say.
 */
export function judgeMadeFile(
  made: Pick<MadeRow, 'id' | 'fileName'>,
  context: JudgeContext,
  contextKey: string,
): MadeVerdict | Promise<MadeVerdict> {
  const key = `${made.id} ${contextKey} ${context.slotId ?? ''} ${made.fileName}`;
  return verdicts.get(key) ?? judgeRow(made.id, context, key);
}

async function judgeRow(id: string, context: JudgeContext, key: string): Promise<MadeVerdict> {
  const row = await MadeRow.findByPk(id);
  if (!row) return { isEveryMustMet: false, likeness: null };
  const take = await TakeRow.findByPk(row.takeId, { attributes: ['id', 'facts'] });
  const isMet = isEveryMustMet(judgeAnew(row, take ?? undefined, context));
  return verdicts.set(key, { isEveryMustMet: isMet, likeness: row.facts.likeness });
}
