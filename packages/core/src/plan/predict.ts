import { measureInView, type PartInView } from '../presence/seen.ts';
import type { TimeRange } from '../time/range.ts';
import { checkLimits } from '../limits/check.ts';
import type { LimitFinding } from '../limits/finding.ts';
import type { Limit } from '../limits/limit.ts';
import { convertFactsToSubject, NO_UNCERTAINTY, type PieceInView, type Subject } from '../limits/subject.ts';
import { readRate, type Continuity, type MediaFacts } from '../media/facts.ts';
import { parseWantedPattern, type NameContext } from '../naming/pattern.ts';
import { LIMITED_DBTP, type Recipe } from '../recipe/recipe.ts';
import { isMended } from '../sound/mend-course.ts';
import type { TakeSeries } from '../series/take-series.ts';
import { chooseMix } from './choose-mix.ts';
import { measureKeptLevel } from './measure-kept-level.ts';
import { readPieceInView } from './piece-in-view.ts';
import { readMaxBytes, readPlanRecipe, type Plan, type SoundPlan } from './plan.ts';

/** Coding takes the highest tones away and moves peaks; without loss only rounding is left (docs/fit.md). */
const LOSSY_ROOM = { loudnessLu: 1, peakDb: 0.6 } as const;
const LOW_RATE_ROOM = { loudnessLu: 1.5, peakDb: 2 } as const;
const LOSSLESS_ROOM = { loudnessLu: 0.15, peakDb: 0.15 } as const;
/** Below so many bits a second a channel peaks move further. */
const LOW_RATE_BPS = 48_000;
/** From one side to two, each is this much quieter; together they are as loud as before. */
const MONO_TO_STEREO_DB = -3.01;
/** A picture without a limit on its bytes may come out this much smaller than is guessed. */
const BYTES_ROOM = 0.9;

function findSoundRoom(sound: SoundPlan | null) {
  if (!sound || sound.isCopied) return { loudnessLu: 0, peakDb: 0 };
  if (sound.bitrateBps === null) return LOSSLESS_ROOM;
  return sound.bitrateBps / sound.channels < LOW_RATE_BPS ? LOW_RATE_ROOM : LOSSY_ROOM;
}

/** What mending takes out is known once it is made: a little of the level, and peaks move. */
const MENDING_ROOM = { loudnessLu: 1, peakDb: 1 } as const;

function addMendingRoom(
  room: { readonly loudnessLu: number; readonly peakDb: number },
  { sound }: Recipe,
): { readonly loudnessLu: number; readonly peakDb: number } {
  const isChanged =
    isMended(sound) ||
    sound.noise !== null ||
    sound.ownDb !== null ||
    sound.isLimited ||
    sound.fadeInUs > 0 ||
    sound.fadeOutUs > 0;
  if (!isChanged) return room;
  return {
    loudnessLu: room.loudnessLu + MENDING_ROOM.loudnessLu,
    peakDb: room.peakDb + MENDING_ROOM.peakDb,
  };
}

const holdPeak = (peakDbtp: number | null, { sound }: Recipe) =>
  peakDbtp === null || !sound.isLimited ? peakDbtp : Math.min(peakDbtp, LIMITED_DBTP);

/** What a plan is expected to come out as, in the form that the checks look at. */
export function predictSubject(
  plan: Plan,
  facts: MediaFacts,
  known: { readonly wantedName: string | null; readonly slotId: string | null; readonly series: TakeSeries },
): Subject {
  const sound = plan.kind === 'photo' ? null : plan.sound;
  const recipe = readPlanRecipe(plan);
  const { mix, moreLu } = chooseMix(recipe.sound.sides, facts.sound?.channels ?? 1, sound?.channels ?? 1);
  const level = sound ? measureKeptLevel(facts, known.series, recipe, mix) : null;
  const spread = sound?.channels === 2 && facts.sound?.channels === 1 ? MONO_TO_STEREO_DB : 0;
  const shift = (value: number | null | undefined, more = 0) =>
    value === null || value === undefined ? null : value + (sound?.gainDb ?? 0) + more;
  const size = plan.kind === 'video' ? plan.cut : plan.kind === 'photo' ? plan : null;
  const isExact =
    plan.kind === 'video' ? plan.method === 'rewrap' : plan.kind === 'sound' && plan.sound.codec === 'pcm';
  const isDocument = plan.kind === 'photo' && plan.container === 'pdf';
  const stillCodec = isDocument ? null : plan.container;
  return {
    stage: 'planned',
    mediaKind: isDocument ? 'document' : plan.kind,
    container: plan.container,
    videoCodec: plan.kind === 'video' ? plan.rate.videoCodec : plan.kind === 'photo' ? stillCodec : null,
    soundCodec: sound?.codec ?? null,
    sizeBytes: plan.prediction.bytes,
    durationUs: predictDurationUs(plan),
    // Whether a picture has to shrink to fit its bytes is known when it is made.
    widthPx: size?.widthPx ?? null,
    heightPx: size?.heightPx ?? null,
    frameRate: plan.kind === 'video' ? readRate(plan.cut.frameRate) : null,
    hasSound: sound !== null,
    channels: sound?.channels ?? null,
    sampleRateHz: sound?.rateHz ?? null,
    loudnessLufs: shift(level?.loudnessLufs, moreLu),
    truePeakDbtp: holdPeak(shift(level?.truePeakDbtp, spread), recipe),
    clippedCount: facts.sound ? (level?.clippedCount ?? null) : null,
    uncertainty: {
      ...NO_UNCERTAINTY,
      bytesShare: isExact ? 0 : BYTES_ROOM,
      ...addMendingRoom(findSoundRoom(sound), recipe),
    },
    spanCount: Math.max(1, recipe.spans.length),
    continuity: facts.continuity,
    inView: readInView(facts, recipe.spans),
    pieceInView: readPieceInView(facts, recipe),
    locationPresent: false,
    fileName: plan.fileName,
    wantedName: known.wantedName,
    slotId: known.slotId,
    sha256: null,
  };
}

export function predictDurationUs(plan: Plan): number | null {
  if (plan.kind === 'photo') return null;
  return plan.kind === 'sound' ? plan.prediction.durationUs : plan.cut.durationUs;
}

/**
 * The name that the limits want for this person and piece, without ending; null where no limit or no name
 * says.
 */
export function findWantedName(limits: readonly Limit[], context: NameContext | null): string | null {
  const limit = limits.find((each) => each.kind === 'file-name');
  return limit?.kind === 'file-name' && context ? parseWantedPattern(limit.pattern).fill(context) : null;
}

export interface JudgeContext {
  readonly limits: readonly Limit[];
  readonly nameContext: NameContext | null;
  /** The slot that the file is meant for; null where that is open. */
  readonly slotId?: string | null;
}

/** Findings on a take as it came in. */
export function judgeTake(facts: MediaFacts, takeName: string, context: JudgeContext): LimitFinding[] {
  return checkLimits(
    context.limits,
    convertFactsToSubject(facts, {
      stage: 'measured',
      fileName: takeName,
      wantedName: findWantedName(context.limits, context.nameContext),
      spanCount: null,
      slotId: context.slotId ?? null,
      clippedCount: facts.sound?.clippedCount ?? null,
      continuity: facts.continuity,
      inView: readInView(facts, []),
      pieceInView: readPieceInView(facts, null),
    }),
  );
}

/** Findings that a plan is expected to give. */
export function judgePlan(
  plan: Plan,
  facts: MediaFacts,
  context: JudgeContext & { readonly series: TakeSeries },
): LimitFinding[] {
  const wantedName = findWantedName(context.limits, context.nameContext);
  const slotId = context.slotId ?? null;
  const subject = predictSubject(plan, facts, { wantedName, slotId, series: context.series });
  const findings = checkLimits(context.limits, subject);
  const maxBytes = readMaxBytes(plan);
  const isTight = plan.kind === 'photo' && plan.prediction.isTight && maxBytes !== null;
  if (!isTight) return findings;
  // Bytes and points pull at one another: each alone can be kept, both together only making it can tell.
  return findings.map((finding) =>
    ['file-size', 'picture-edge', 'print-resolution'].includes(finding.kind) && finding.state === 'met'
      ? { ...finding, state: 'unknown', sentence: 'So close that only the finished file can tell' }
      : finding,
  );
}

/** How long the person is in the picture within these stretches of a take, or within all of it. */
export function readInView(
  facts: Pick<MediaFacts, 'seen'>,
  spans: readonly TimeRange[],
): readonly PartInView[] | null {
  if (!facts.seen) return null;
  const all = [{ startUs: 0, finishUs: Number.MAX_SAFE_INTEGER }];
  return measureInView(facts.seen, spans.length > 0 ? spans : all);
}

/** What is known of the recording that a made file comes from. */
export interface MadeOrigin {
  readonly spanCount: number | null;
  readonly clippedCount: number | null;
  readonly continuity: Continuity | null;
  readonly inView: readonly PartInView[] | null;
  readonly pieceInView?: PieceInView;
}

/** What a plan's recording hands on to what is made of it. */
export function describeOrigin(plan: Plan, facts: MediaFacts, series: TakeSeries): MadeOrigin {
  const recipe = readPlanRecipe(plan);
  const level = measureKeptLevel(facts, series, recipe);
  const isLookedAt = series.blocks !== null || (facts.sound?.clippedCount ?? null) !== null;
  return {
    spanCount: Math.max(1, recipe.spans.length),
    clippedCount: isLookedAt ? (level?.clippedCount ?? null) : null,
    continuity: facts.continuity,
    inView: readInView(facts, recipe.spans),
    pieceInView: readPieceInView(facts, recipe),
  };
}

/** Findings on the made file itself: its own facts decide, beside its name and where it comes from. */
export function judgeMade(
  facts: MediaFacts,
  fileName: string,
  origin: MadeOrigin,
  context: JudgeContext,
): LimitFinding[] {
  return checkLimits(
    context.limits,
    convertFactsToSubject(facts, {
      stage: 'proven',
      fileName,
      wantedName: findWantedName(context.limits, context.nameContext),
      slotId: context.slotId ?? null,
      ...origin,
    }),
  );
}
