import {
  buildPlan,
  judgePlan,
  measureFramesUs,
  readRate,
  type Limit,
  type MediaFacts,
  type Plan,
  type Recipe,
  type TakeSeries,
} from '@apodix/core';
import { holds, type Figures } from './oracle.ts';

export interface Case {
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
  readonly recipe: Recipe;
  readonly limits: readonly Limit[];
  readonly slotId: string | null;
}

const JUDGE = { nameContext: null };

export const planCase = ({ facts, series, recipe, limits, slotId }: Case) =>
  buildPlan({ facts, series, recipe, limits, slotId, takeName: 'take.bin', ...JUDGE });
export const judgeCase = (plan: Plan, { facts, series, limits, slotId }: Case) =>
  judgePlan(plan, facts, { limits, series, slotId, ...JUDGE });

/** What the maker is told to make, in plain figures. Levels are left to real makes. */
function readFigures(plan: Plan): Figures {
  const none = {
    videoCodec: null,
    soundCodec: null,
    durationUs: null,
    widthPx: null,
    heightPx: null,
    frameRate: null,
  };
  const sound = plan.kind === 'photo' ? null : plan.sound;
  const base = {
    ...none,
    container: plan.container,
    sizeBytes: plan.prediction.bytes,
    hasSound: sound !== null,
    soundCodec: sound?.codec ?? null,
    channels: sound?.channels ?? null,
    sampleRateHz: sound?.rateHz ?? null,
    loudnessLufs: null,
    truePeakDbtp: null,
  };
  if (plan.kind === 'photo') return { ...base, widthPx: plan.widthPx, heightPx: plan.heightPx };
  if (plan.kind === 'sound') return { ...base, durationUs: plan.prediction.durationUs };
  return {
    ...base,
    videoCodec: plan.rate.videoCodec,
    durationUs: measureFramesUs(plan.cut),
    widthPx: plan.cut.widthPx,
    heightPx: plan.cut.heightPx,
    frameRate: readRate(plan.cut.frameRate),
  };
}

/**
 * What is wrong with how a case is planned: a *must* called met that the plan's own figures break, and a
 * *must* that it falls short of without a word. Empty where nothing is.
 */
export function listBreaches(each: Case): string[] {
  const { plan, refusals } = planCase(each);
  if (!plan) return refusals.length > 0 ? [] : ['nothing is planned, and nothing said'];
  const figures = readFigures(plan);
  const refused = new Set(refusals.flatMap((refusal) => ('limitId' in refusal ? [refusal.limitId] : [])));
  return judgeCase(plan, each).flatMap((finding) => {
    const limit = each.limits.find(({ id }) => id === finding.limitId);
    if (!limit || limit.severity !== 'must') return [];
    const told = JSON.stringify({ limit, figures });
    if (finding.state === 'met' && holds(limit, figures) === false) return [`called met: ${told}`];
    if (finding.state === 'short' && refusals.length === 0 && !refused.has(limit.id))
      return [`short and not refused: ${told}`];
    return [];
  });
}
