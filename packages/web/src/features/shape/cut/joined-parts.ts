import { listJoinedSources, type Recipe, type TimeRange } from '@apodix/core';

/** A recipe that ends with a part of another take, named as a source where it is none yet. */
export function addPartOf(recipe: Recipe, takeId: string, range: TimeRange, own: TimeRange): Recipe {
  const takes = recipe.sources.filter((source) => source.role === 'take');
  const known = takes.findIndex((source) => source.takeId === takeId);
  const source = known >= 0 ? known : takes.length;
  const sources =
    known >= 0
      ? recipe.sources
      : [
          ...takes,
          { takeId, role: 'take' as const, offsetUs: 0, driftPpm: 0 },
          // Spans name sources by their place: a separate recording stays behind all takes.
          ...recipe.sources.filter((each) => each.role === 'sound'),
        ];
  const spans = recipe.spans.length > 0 ? recipe.spans : [{ source: 0, ...own }];
  return { ...recipe, sources, spans: [...spans, { source, ...range }] };
}

/** The same with other spans; takes that no part is kept of any more are no sources of it. */
export function keepSpans(recipe: Recipe, spans: Recipe['spans']): Recipe {
  const isUsed = (index: number) => index === 0 || spans.some((span) => span.source === index);
  const kept = recipe.sources
    .map((source, index) => ({ source, index }))
    .filter(({ source, index }) => source.role === 'sound' || isUsed(index));
  return {
    ...recipe,
    sources: kept.map(({ source }) => source),
    spans: spans.map((span) => ({
      ...span,
      source: kept.findIndex(({ index }) => index === span.source),
    })),
  };
}

/** The takes whose parts a recipe joins, by their place among its sources. */
export const listJoinedIds = (recipe: Recipe): string[] =>
  listJoinedSources(recipe).flatMap((source) => source.takeId ?? []);
