import { checkLimits } from '../limits/check.ts';
import type { Finding } from '../limits/finding.ts';
import type { Limit } from '../limits/limit.ts';
import { convertFactsToSubject, type Subject } from '../limits/subject.ts';
import { measureFramesUs, readRate, type MediaFacts } from '../media/facts.ts';
import { parseWantedPattern, type NameContext } from '../naming/pattern.ts';
import { measureRangeUs } from '../time/range.ts';
import type { Plan } from './plan.ts';

/** What a plan is expected to come out as, in the form that the checks look at. */
export function predictSubject(plan: Plan, facts: MediaFacts, wantedName: string | null): Subject {
  const sound = plan.kind === 'photo' ? null : plan.sound;
  const gainDb = sound?.gainDb ?? 0;
  const shift = (level: number | null | undefined) =>
    level === null || level === undefined ? null : level + gainDb;
  return {
    stage: 'planned',
    mediaKind: plan.kind,
    container: plan.container,
    videoCodec:
      plan.kind === 'video'
        ? plan.videoCodec
        : plan.kind === 'photo'
          ? plan.container === 'pdf'
            ? 'jpeg'
            : plan.container
          : null,
    soundCodec: sound?.codec ?? null,
    sizeBytes: plan.predictedBytes,
    durationUs: predictDurationUs(plan),
    widthPx: plan.kind === 'sound' ? null : plan.widthPx,
    heightPx: plan.kind === 'sound' ? null : plan.heightPx,
    frameRate: plan.kind === 'video' ? readRate(plan.frameRate) : null,
    hasSound: sound !== null,
    channels: sound?.channels ?? null,
    sampleRateHz: sound?.rateHz ?? null,
    loudnessLufs: sound ? shift(facts.sound?.loudnessLufs) : null,
    truePeakDbtp: sound ? shift(facts.sound?.truePeakDbtp) : null,
    spanCount: 1,
    locationPresent: false,
    fileName: plan.fileName,
    wantedName,
    sha256: null,
  };
}

export function predictDurationUs(plan: Plan): number | null {
  if (plan.kind === 'photo') return null;
  if (plan.kind === 'sound') return measureRangeUs(plan.keep);
  return Math.round(measureFramesUs(plan));
}

/** The name that the limits want for this person and piece, without ending; null where no limit or no name says. */
export function findWantedName(limits: readonly Limit[], context: NameContext | null): string | null {
  const limit = limits.find((each) => each.kind === 'file-name');
  return limit?.kind === 'file-name' && context ? parseWantedPattern(limit.pattern).fill(context) : null;
}

export interface JudgeContext {
  readonly limits: readonly Limit[];
  readonly nameContext: NameContext | null;
}

/** Findings on a take as it came in. */
export function judgeTake(facts: MediaFacts, takeName: string, context: JudgeContext): Finding[] {
  return checkLimits(
    context.limits,
    convertFactsToSubject(facts, {
      stage: 'measured',
      fileName: takeName,
      wantedName: findWantedName(context.limits, context.nameContext),
      spanCount: null,
    }),
  );
}

/** Findings that a plan is expected to give. */
export function judgePlan(plan: Plan, facts: MediaFacts, context: JudgeContext): Finding[] {
  return checkLimits(
    context.limits,
    predictSubject(plan, facts, findWantedName(context.limits, context.nameContext)),
  );
}

/** Findings on the made file itself: its own facts decide, nothing is taken from the plan but its name and spans. */
export function judgeMade(facts: MediaFacts, plan: Pick<Plan, 'fileName'>, context: JudgeContext): Finding[] {
  return checkLimits(
    context.limits,
    convertFactsToSubject(facts, {
      stage: 'proven',
      fileName: plan.fileName,
      wantedName: findWantedName(context.limits, context.nameContext),
      spanCount: 1,
    }),
  );
}
