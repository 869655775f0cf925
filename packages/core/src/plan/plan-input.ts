import type { Preference } from '../fit/curves.ts';
import type { FitSamples } from '../fit/samples.ts';
import type { Limit } from '../limits/limit.ts';
import type { Refusal } from '../limits/refusal.ts';
import type { MediaFacts } from '../media/facts.ts';
import type { NameContext } from '../naming/pattern.ts';
import type { FitChoice } from '../recipe/fit-choice.ts';
import type { Recipe } from '../recipe/recipe.ts';
import type { TakeSeries } from '../series/take-series.ts';
import type { SoundNeed } from '../sound/sound-need.ts';
import type { Plan } from './plan.ts';

export interface PlanInput {
  readonly facts: MediaFacts;
  readonly recipe: Recipe;
  readonly limits: readonly Limit[];
  /** What is known along the take. */
  readonly series: TakeSeries;
  /** Takes beside its own that `facts` and `series` already tell of: joined ones, a separate recording. */
  readonly otherTakeIds?: readonly string[];
  /** Name of the take as it came in. */
  readonly takeName: string;
  readonly nameContext: NameContext | null;
  /** What samples of the take came to; without them the plan goes by bits a pixel. */
  readonly samples?: FitSamples | null;
  /** What was chosen in Fit; null makes the best that fits. */
  readonly choice?: FitChoice | null;
  readonly preference?: Preference;
  /** What the sound is; music where nothing is said. */
  readonly soundNeed?: SoundNeed;
  /** The slot that the file is meant for. */
  readonly slotId?: string | null;
}

export interface PlanResult {
  /** null where no file that means anything can be made. */
  readonly plan: Plan | null;
  /** *Musts* that cannot be met with this take and recipe; a plan may still stand beside them. */
  readonly refusals: readonly Refusal[];
}
