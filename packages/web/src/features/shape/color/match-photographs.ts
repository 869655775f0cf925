import { createPlainRecipe, matchPaper, type ColorSettings, type Recipe, type TakeView } from '@apodix/core';
import { renderShaped } from '../picture/render-shaped.ts';

const LOOKED_PX = 320;

/**
 * Settings that bring a photograph near another as that one will be handed in; null where either tells too
 * little. Rejects where one cannot be read.
 */
export async function matchPhotographs(
  take: TakeView,
  recipe: Recipe,
  model: TakeView,
): Promise<ColorSettings | null> {
  if (take.proxyUrl === null || model.proxyUrl === null) return null;
  const uncolored = { ...recipe, picture: { ...recipe.picture, color: null } };
  const [own, wanted] = await Promise.all([
    renderShaped(take.proxyUrl, uncolored, LOOKED_PX),
    renderShaped(model.proxyUrl, model.recipe?.recipe ?? createPlainRecipe(), LOOKED_PX),
  ]);
  return matchPaper(own, wanted);
}
