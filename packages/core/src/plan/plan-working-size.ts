import { frameSize, unframeSize } from '../geometry/frame.ts';
import { fitSizeInside, type SizePx } from '../geometry/turn.ts';
import type { Limit } from '../limits/limit.ts';
import { readCeilings } from '../limits/steer.ts';
import { isCostlyToDecode, type VideoFacts } from '../media/facts.ts';
import { createPlainRecipe, type Recipe } from '../recipe/recipe.ts';

/** Assignments hardly ever ask for more lines. */
const MOST_LINES = 1080;

/**
 * The size, before turning, of a copy of a take that is written while it is measured and makes the rest
 * faster: as large as the limits allow, where the take is costly to decode. null where the take itself does:
 * it is decoded once more, which takes less than writing a copy.
 */
export function planWorkingSize(
  video: VideoFacts,
  recipe: Recipe | null,
  limits: readonly Limit[],
): SizePx | null {
  const ceilings = readCeilings(limits, 'video');
  const framing = (recipe ?? createPlainRecipe()).picture;
  const shortEdgePx = Math.min(ceilings.size.shortEdgePx ?? Infinity, MOST_LINES);
  const framed = fitSizeInside(frameSize(video, framing), { ...ceilings.size, shortEdgePx }, 2);
  const size = unframeSize(framed, video, framing);
  return isCostlyToDecode(video) ? size : null;
}
