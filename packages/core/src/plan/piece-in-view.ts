import type { PieceInView } from '../limits/subject.ts';
import type { MediaFacts } from '../media/facts.ts';
import { SURE_CONFIDENCE } from '../picture/find-piece.ts';
import { createPlainRecipe, type Recipe } from '../recipe/recipe.ts';

/** How far from those that were found corners may be set, in shares of the photograph's edges. */
const SAME_CORNER = 0.012;

/**
 * Whether all of the piece that was found in a photograph is in what a recipe makes of it; null where none
 * was found for sure, or where the person cut it another way.
 */
export function readPieceInView(facts: Pick<MediaFacts, 'photo'>, recipe: Recipe | null): PieceInView {
  const piece = facts.photo?.piece;
  if (!piece || piece.confidence < SURE_CONFIDENCE || facts.photo?.isFromScreen) return null;
  if (piece.isCutOff) return 'at-border';
  const { flatten, crop, straightenDegrees } = (recipe ?? createPlainRecipe()).picture;
  if (crop || straightenDegrees !== 0) return null;
  const isAsFound = (flatten?.corners ?? piece.corners).every(
    ({ x, y }, index) =>
      Math.abs(x - (piece.corners[index as 0]?.x ?? 9)) <= SAME_CORNER &&
      Math.abs(y - (piece.corners[index as 0]?.y ?? 9)) <= SAME_CORNER,
  );
  return isAsFound ? 'whole' : null;
}
