import { planSteady, type SteadyCourse } from '../geometry/steady.ts';
import { readRate, type MediaFacts } from '../media/facts.ts';
import type { Recipe } from '../recipe/recipe.ts';
import type { TakeSeries } from '../series/take-series.ts';
import { findFrameAt } from '../time/frame-times.ts';

/**
 * How a recipe steadies its own take; null where it does not, or where nobody measured how it shook. Only
 * what is kept says how far it is enlarged.
 */
export function planTakeSteady(
  facts: Pick<MediaFacts, 'video'>,
  series: Pick<TakeSeries, 'frames' | 'places' | 'shake'>,
  recipe: Pick<Recipe, 'spans' | 'picture'>,
): SteadyCourse | null {
  const { steady } = recipe.picture;
  const { frames, shake = null } = series;
  if (steady === null || !shake || !frames || !facts.video) return null;
  const own = recipe.spans.filter((span) => span.source === 0);
  const all = { first: 0, last: shake.x.length };
  const kept = own.map((span) => ({
    first: findFrameAt(frames, span.startUs),
    last: findFrameAt(frames, span.finishUs - 1) + 1,
  }));
  const { video } = facts;
  return planSteady(shake, video, readRate(video.frameRate), steady, recipe.spans.length > 0 ? kept : [all]);
}
