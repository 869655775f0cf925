import { z } from 'zod';
import { TurnDegrees } from '../geometry/turn.ts';
import { TimeRange } from '../time/range.ts';
import { FitChoice } from './fit-choice.ts';
import { createPlainRecipe, keepRange, Recipe } from './recipe.ts';

/** The first form of a recipe: one stretch of one take, with what was chosen in Fit inside. */
const RecipeV1 = z.strictObject({
  version: z.literal(1),
  keep: TimeRange.nullable(),
  turnDegrees: TurnDegrees,
  isMirrored: z.boolean(),
  soundGainDb: z.number().min(-40).max(40),
  fit: FitChoice.nullable().default(null),
});

export interface OpenedRecipe {
  readonly recipe: Recipe;
  /** What an older recipe said of Fit; null where it said nothing. */
  readonly fit: FitChoice | null;
}

/**
 * Opens a recipe of this form or of an older one. Throws a `ZodError` where it is none, and where it asks for
 * something that is not known: nothing is dropped silently.
 */
export function openRecipe(raw: unknown): OpenedRecipe {
  const isFirst = typeof raw === 'object' && raw !== null && (raw as { version?: unknown }).version === 1;
  if (!isFirst) return { recipe: Recipe.parse(raw), fit: null };
  const { keep, turnDegrees, isMirrored, soundGainDb, fit } = RecipeV1.parse(raw);
  const plain = keepRange(createPlainRecipe(), keep);
  return {
    recipe: {
      ...plain,
      picture: { ...plain.picture, turnDegrees, isMirrored },
      sound: { ...plain.sound, gainDb: soundGainDb },
    },
    fit,
  };
}
