import type { MediaFacts, Rational } from '../media/facts.ts';
import type { Recipe } from '../recipe/recipe.ts';
import type { TakeSeries } from '../series/take-series.ts';
import type { TimeRange } from '../time/range.ts';
import { buildTimeline, type Timeline, type TimelineSource } from '../timeline/timeline.ts';
import { placeSpans } from './join-takes.ts';

/** A take as its timeline needs it. */
export function describeTimelineSource(
  facts: Pick<MediaFacts, 'video' | 'sound' | 'durationUs'>,
  series: Pick<TakeSeries, 'frames'>,
): TimelineSource {
  const { video } = facts;
  return {
    frames: video ? series.frames : null,
    constantRate: video?.rateKind === 'constant' ? video.frameRate : null,
    endUs: (video ? series.frames?.endUs : null) ?? facts.durationUs ?? 1,
  };
}

/** The timeline of a take, or of several joined, under a recipe, at a rate; without one of sound alone. */
export function buildTakeTimeline(
  facts: Pick<MediaFacts, 'video' | 'sound' | 'durationUs'>,
  series: Pick<TakeSeries, 'frames' | 'places'>,
  recipe: Pick<Recipe, 'spans'>,
  rate: Rational | null,
  mostUs: number | null = null,
): Timeline {
  const source = describeTimelineSource(facts, series);
  const spans = placeSpans(recipe.spans, series.places);
  return buildTimeline({ recipe: { spans }, sources: [source], rate, mostUs });
}

/** The stretches of the take that are kept, in their order. */
export function listKeptRanges(timeline: Timeline): TimeRange[] {
  return timeline.spans.map((span) => ({
    startUs: Math.max(0, span.sourceStartUs),
    finishUs: Math.max(1, span.sourceFinishUs),
  }));
}

/** From the first kept moment to the last, on whole frames: what one handle each shows. */
export function resolveKeep(
  facts: Pick<MediaFacts, 'video' | 'sound' | 'durationUs'>,
  recipe: Pick<Recipe, 'spans'>,
  series: Pick<TakeSeries, 'frames' | 'places'>,
): TimeRange {
  const rate = facts.video?.frameRate ?? null;
  const ranges = listKeptRanges(buildTakeTimeline(facts, series, recipe, rate));
  return {
    startUs: Math.min(...ranges.map((range) => range.startUs)),
    finishUs: Math.max(...ranges.map((range) => range.finishUs)),
  };
}
