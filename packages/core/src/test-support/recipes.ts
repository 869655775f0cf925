import type { TurnDegrees } from '../geometry/turn.ts';
import { createPlainRecipe, keepRange, type Recipe } from '../recipe/recipe.ts';

/** A plain recipe of one take with some of it changed. */
export function buildRecipe(
  changes: {
    readonly keep?: { readonly startUs: number; readonly finishUs: number };
    readonly turnDegrees?: TurnDegrees;
    readonly isMirrored?: boolean;
    readonly soundGainDb?: number;
    readonly picture?: Partial<Recipe['picture']>;
    readonly sound?: Partial<Recipe['sound']>;
  } = {},
): Recipe {
  const plain = keepRange(createPlainRecipe(), changes.keep ?? null);
  return {
    ...plain,
    picture: {
      ...plain.picture,
      turnDegrees: changes.turnDegrees ?? 0,
      isMirrored: changes.isMirrored ?? false,
      ...changes.picture,
    },
    sound: { ...plain.sound, gainDb: changes.soundGainDb ?? 0, ...changes.sound },
  };
}
