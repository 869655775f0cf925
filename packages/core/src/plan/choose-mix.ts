import type { Recipe } from '../recipe/recipe.ts';
import type { SideMix } from '../sound/measure-level.ts';

/** One side on both speakers is so much louder than on one. */
const BOTH_SIDES_LU = 10 * Math.log10(2);

/** How the sides of a take come out in a file of so many channels, and how much louder that makes it. */
export function chooseMix(
  sides: Recipe['sound']['sides'],
  ownChannels: number,
  channels: number,
): { readonly mix: SideMix; readonly moreLu: number } {
  if (ownChannels === 1) return { mix: 'as-recorded', moreLu: 0 };
  const moreLu = channels === 1 ? 0 : BOTH_SIDES_LU;
  if (sides === 'left' || sides === 'right') return { mix: sides, moreLu };
  if (sides === 'mixed') return { mix: 'mono', moreLu };
  return { mix: channels === 1 ? 'mono' : 'as-recorded', moreLu: 0 };
}
