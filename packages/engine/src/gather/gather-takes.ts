import {
  ApodixError,
  applySeparateSound,
  joinEvidence,
  joinTakes,
  listJoinedSources,
  LEAST_ALIGN_CONFIDENCE,
  laySeparate,
  laySound,
  type Limit,
  type Recipe,
  type RecipeSource,
} from '@apodix/core';
import type { Inspected } from '../bring-in/bring-in.ts';
import { proposeRecipe } from '../bring-in/propose-recipe.ts';
import type { JoinedFile } from './joined-files.ts';

/** The name of a separate recording that has no id of its own. */
const SEPARATE_ID = 'separate';

/**
 * A take with the sound of a separate recording, laid on it. Throws `BAD_REQUEST` where either has no sound,
 * or they do not belong together.
 */
export function layOther(
  take: Inspected,
  other: Inspected,
  wish: Recipe['sound'],
): Pick<Inspected, 'facts' | 'series' | 'evidence'> & {
  readonly source: RecipeSource;
} {
  const [own, sound] = [take.evidence.sound, other.evidence.sound];
  const found = own && sound ? laySound(own, sound) : null;
  if (!sound || !found || found.confidence < LEAST_ALIGN_CONFIDENCE)
    throw new ApodixError('BAD_REQUEST', {
      detail: `The separate recording does not belong to this take (confidence ${(found?.confidence ?? 0).toFixed(2)}).`,
    });
  const source: RecipeSource = {
    takeId: SEPARATE_ID,
    role: 'sound',
    offsetUs: found.offsetUs,
    driftPpm: Math.round(found.driftPpm * 10) / 10,
  };
  const separate = { takeId: SEPARATE_ID, facts: other.facts, series: other.series };
  const recipe = { sources: [source], sound: wish };
  const { facts, series } = applySeparateSound(take, recipe, [separate]);
  return { facts, ...laySeparate({ evidence: take.evidence, series }, recipe, sound), source };
}

/** What is known of a take, for making and proving. */
type Known = Pick<Inspected, 'facts' | 'series' | 'evidence'>;

/** A take whose parts come after another one. */
export type NextTake = Known & { readonly path: string };

/**
 * A take and those that come after it as one. A recipe that names other takes means them, in this order; one
 * that names none keeps of each what would be proposed for it alone. Throws `BAD_REQUEST` where they are not
 * of one kind, or another number than the recipe names.
 */
export function joinNext(
  own: Known,
  recipe: Recipe,
  next: readonly NextTake[],
  limits: readonly Limit[],
): Known & { readonly recipe: Recipe; readonly files: readonly JoinedFile[] } {
  const named = listJoinedSources(recipe);
  if (named.length > 0 && named.length !== next.length)
    throw new ApodixError('BAD_REQUEST', {
      detail: `The recipe joins ${named.length} more takes; ${next.length} are given.`,
    });
  if (next.some(({ facts }) => facts.kind !== own.facts.kind))
    throw new ApodixError('BAD_REQUEST', {
      detail: 'Only takes of one kind can be joined: videos with videos, sound with sound.',
    });
  const idOf = (index: number) => named[index]?.takeId ?? `next-${index + 1}`;
  const others = next.map((take, index) => ({ ...take, takeId: idOf(index) }));
  const whole = named.length > 0 || next.length === 0 ? recipe : nameNext(own, recipe, next, limits);
  return { ...gatherTakes(own, whole, others), recipe: whole };
}

/**
 * A take with all whose parts its recipe joins, in the order of the recipe, and what is drawn between and
 * before them, on one common time.
 */
export function gatherTakes(
  own: Known,
  recipe: Recipe,
  others: readonly (NextTake & { readonly takeId: string })[],
): Known & { readonly files: readonly JoinedFile[] } {
  const joined = listJoinedSources(recipe).flatMap((source) =>
    others.filter((each) => each.takeId === source.takeId),
  );
  const { facts, series } = joinTakes(own, recipe, joined);
  const { places } = series;
  if (!places) return { ...own, files: [] };
  const files = joined.flatMap((take, index): JoinedFile[] => {
    const place = places[index + 1];
    return place ? [{ path: take.path, facts: take.facts, frames: take.series.frames, place }] : [];
  });
  return { facts, series, evidence: joinEvidence([own, ...joined], places), files };
}

/** A recipe with takes that come after its own, each as it would be proposed alone. */
function nameNext(own: Known, recipe: Recipe, next: readonly NextTake[], limits: readonly Limit[]): Recipe {
  const added = next.map((_, index): RecipeSource => {
    return { takeId: `next-${index + 1}`, role: 'take', offsetUs: 0, driftPpm: 0 };
  });
  const first = recipe.sources.length;
  const keep = (take: Known, source: number, { spans }: Pick<Recipe, 'spans'>) =>
    spans.length > 0
      ? spans.map((span) => ({ ...span, source }))
      : [{ source, startUs: 0, finishUs: take.series.frames?.endUs ?? take.facts.durationUs ?? 1 }];
  const spans = [
    ...keep(own, 0, recipe),
    ...next.flatMap((take, index) => keep(take, first + index, proposeRecipe(take, limits))),
  ];
  return { ...recipe, sources: [...recipe.sources, ...added], spans };
}
