import { findPreference } from '../fit/preference.ts';
import type { FitSamples } from '../fit/samples.ts';
import { findSlotOf, type Placing } from '../handin/place-in-parcel.ts';
import type { Limits } from '../limits/limit.ts';
import type { MediaKind } from '../media/containers.ts';
import type { MediaFacts } from '../media/facts.ts';
import { buildNameContext, type NameSource } from '../naming/build-name-context.ts';
import type { FitChoice } from '../recipe/fit-choice.ts';
import type { Recipe } from '../recipe/recipe.ts';
import type { TakeSeries } from '../series/take-series.ts';
import { findSoundNeed } from '../sound/sound-need.ts';
import { buildPlan } from './build-plan.ts';
import { applyOthers } from './join-takes.ts';
import type { OtherTake } from './separate-sound.ts';
import type { PlanInput, PlanResult } from './plan-input.ts';

/** An assignment with the person's parcel, as far as a plan follows from them. */
export interface WorkToPlan extends NameSource, Placing {
  readonly limits: Limits;
  /** Of the course; empty where there is none. */
  readonly subject: string;
}

export interface TakeToPlan {
  readonly id: string;
  readonly name: string;
  readonly kind: MediaKind | null;
  readonly facts: MediaFacts | null;
  readonly samples: FitSamples | null;
  readonly choice: FitChoice | null;
}

/** The plan of a take for an assignment; null while the take is not measured. */
export function planTake(
  work: WorkToPlan,
  take: TakeToPlan | null,
  recipe: Recipe | null,
  series: TakeSeries | null,
  others: readonly OtherTake[] = [],
): PlanResult | null {
  const input = buildPlanInput(work, take, recipe, series, others);
  return input && buildPlan(input);
}

/** Everything that a plan follows from; null while the take is not measured. */
export function buildPlanInput(
  work: WorkToPlan,
  take: TakeToPlan | null,
  recipe: Recipe | null,
  series: TakeSeries | null,
  others: readonly OtherTake[] = [],
): PlanInput | null {
  if (!take?.facts || !series || !recipe) return null;
  return {
    ...applyOthers({ facts: take.facts, series }, recipe, others),
    otherTakeIds: others.map((each) => each.takeId),
    recipe,
    limits: work.limits,
    takeName: take.name,
    nameContext: buildNameContext(work),
    samples: take.samples,
    choice: take.choice,
    preference: findPreference(work.subject),
    soundNeed: findSoundNeed(work.subject, series.peaks),
    slotId: findSlotOf(work, take),
  };
}
