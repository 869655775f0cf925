import { z } from 'zod';
import { OpeningCard, Recipe } from '../recipe/recipe.ts';
import { Id } from './schemas.ts';

/** Which frame becomes a photograph, and what for; null for nothing yet. */
export const StillInput = z.object({ frame: z.int().nonnegative(), assignmentId: Id.nullable() });
/** A take whose sound is laid on another one's picture, and how it lies there. */
export const AlignInput = z.object({ soundTakeId: Id });
export const AlignAnswer = z.object({
  offsetUs: z.int(),
  driftPpm: z.number(),
  confidence: z.number(),
  belongTogether: z.boolean(),
});
export type AlignAnswer = z.infer<typeof AlignAnswer>;
/** An opening card, and the size of the picture that it will stand before. */
export const CardInput = z.object({
  card: OpeningCard,
  widthPx: z.int().min(16).max(8192),
  heightPx: z.int().min(16).max(8192),
});
export const CardDrawn = z.object({ svg: z.string() });
/** Other own photographs of the same piece, the lamp moved between them. */
export const MergeInput = z.object({ takeIds: z.array(Id).min(1).max(2), assignmentId: Id.nullable() });
export const MergeDone = z.object({ takeId: Id, replacedShare: z.number().min(0).max(1) });
export const StillTaken = z.object({ takeId: Id });
export const RecipeInput = z.object({ recipe: Recipe, baseVersion: z.int().nonnegative() });
