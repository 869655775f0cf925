import {
  evenPatches,
  fitTarget,
  isUneven,
  propose,
  type Limit,
  type PhotoFacts,
  type Recipe,
} from '@apodix/core';
import type { Inspected } from '../bring-in/bring-in.ts';
import { proposeRecipe } from '../bring-in/propose-recipe.ts';
import { useBlankSheet } from './blank-sheet.ts';
import type { CommandEnd } from './command-end.ts';

/**
 * The whole proposal for a take: its recipe; of a photograph also what was seen in it, how sure that is, and
 * what is done about it.
 */
export async function proposeCommand(
  inspected: Inspected,
  limits: readonly Limit[],
  blank: string | undefined,
  signal: AbortSignal,
): Promise<CommandEnd> {
  const { facts, series } = inspected;
  const change = (own: Recipe) =>
    blank === undefined ? Promise.resolve(own) : useBlankSheet(own, inspected, blank, signal);
  if (!facts.photo) return { answer: await change(proposeRecipe(inspected, limits)), exitCode: 0 };
  const proposal = propose(facts, series, limits);
  const { colorReasons, remarks } = proposal;
  const recipe = await change(proposal.recipe);
  return { answer: { ...describePhoto(facts.photo), colorReasons, remarks, recipe }, exitCode: 0 };
}

function describePhoto(photo: PhotoFacts): object {
  const { piece = null, light = null, target = null, isFromScreen = false, widthPx, heightPx } = photo;
  const even = light && isUneven(light) ? light.even : null;
  const fit = target ? fitTarget(evenPatches(target.patches, target.corners, even)) : null;
  return {
    widthPx,
    heightPx,
    isFromScreen,
    /** In points of the upright photograph: top left, top right, bottom right, bottom left. */
    corners: piece && piece.corners.map(({ x, y }) => ({ x: x * widthPx, y: y * heightPx })),
    confidence: piece?.confidence ?? null,
    piece,
    light: light && { ...light, isUneven: isUneven(light) },
    target: target && {
      ...target,
      way: fit?.way ?? null,
      meanBefore: fit?.meanBefore ?? null,
      meanAfter: fit?.meanAfter ?? null,
      foretold: fit?.foretold ?? null,
      before: fit?.before ?? null,
      after: fit?.after ?? null,
    },
  };
}
