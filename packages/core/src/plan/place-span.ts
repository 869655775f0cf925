import type { RecipeSpan } from '../recipe/recipe.ts';
import type { TakePlace } from '../series/take-series.ts';
import type { TimeRange } from '../time/range.ts';

/** A span of a recipe on the common time of all takes; null where its take is not there. */
export function placeSpan(span: RecipeSpan, places: readonly TakePlace[]): TimeRange | null {
  const place = places.find((each) => each.source === span.source);
  if (!place || place.startUs + span.startUs >= place.endUs) return null;
  const finishUs = Math.min(place.endUs, place.startUs + span.finishUs);
  return { startUs: place.startUs + span.startUs, finishUs };
}
