import { AIM_SHARE } from '../fit/video-budget.ts';
import { frameSize } from '../geometry/frame.ts';
import { fitSizeInside } from '../geometry/turn.ts';
import type { Ceilings } from '../limits/ceilings.ts';
import { writeCodec } from '../limits/words.ts';
import { MADE_CONTAINERS } from '../limits/format-rows.ts';
import type { Limit } from '../limits/limit.ts';
import { refuseLimits, refuseShortPlan } from '../limits/refuse.ts';
import type { Refusal } from '../limits/refusal.ts';
import type { Situation } from '../limits/row.ts';
import { readCeilings } from '../limits/steer.ts';
import { containerTable, isStillKind, type ContainerId } from '../media/containers.ts';
import { readPictureSize, type MediaFacts } from '../media/facts.ts';
import { parseWantedPattern } from '../naming/pattern.ts';
import { isReshaped, measureShaped } from '../recipe/picture-wish.ts';
import { buildSafeFileName, readStem } from '../naming/safe-name.ts';
import type { Recipe, RecipeSource } from '../recipe/recipe.ts';
import { chooseContainer, chooseSoundCodec, chooseVideoCodec } from './choose-container.ts';
import { listJoinedSources } from './join-takes.ts';
import { planCopy } from './plan-copy.ts';
import { measureKeptLevel } from './measure-kept-level.ts';
import { readSoundSource } from './separate-sound.ts';
import type { PlanInput, PlanResult } from './plan-input.ts';
import { planPicture } from './plan-picture.ts';
import { planSoundOnly } from './plan-sound-only.ts';
import { planVideoSound } from './plan-sound.ts';
import { buildTakeTimeline } from './plan-timeline.ts';
import type { PhotoPlan, SoundOnlyPlan, VideoPlan } from './plan.ts';
import { judgePlan } from './predict.ts';
import { refuseSize } from './refuse-size.ts';

/**
 * Turns facts, recipe and limits into the exact output settings and the predicted figures. Pure and
 * deterministic. A *must* that it calls met is met on what is made; what it cannot keep is refused, and what
 * only the made file can tell is called unknown.
 */
export function buildPlan(input: PlanInput): PlanResult {
  const whole = planWith(input, input.limits);
  // Where nothing comes of wishes and musts together, the musts decide.
  const musts = input.limits.filter((limit) => limit.severity === 'must');
  const result = whole.plan || musts.length === input.limits.length ? whole : planWith(input, musts);
  if (!result.plan) return result;
  const known = new Set(result.refused);
  const findings = judgePlan(result.plan, input.facts, {
    limits: input.limits,
    nameContext: input.nameContext,
    slotId: input.slotId ?? null,
    series: input.series,
  });
  return { plan: result.plan, refusals: [...result.refusals, ...refuseShortPlan(findings, known)] };
}

interface Planned extends PlanResult {
  /** Limits that a refusal speaks of. */
  readonly refused: readonly string[];
}

function planWith(input: PlanInput, limits: readonly Limit[]): Planned {
  const { facts, recipe } = input;
  const slotId = input.slotId ?? null;
  const unmade = refuseRecipe(input);
  if (unmade) return { plan: null, refusals: [unmade], refused: [] };
  const ceilings = readCeilings(limits, facts.kind, { slotId });
  const container = chooseContainer(facts.kind, ceilings, facts);
  if (container === null && facts.kind === 'video' && facts.sound) {
    const asSound = planSoundOfVideo(input, limits);
    if (asSound) return asSound;
  }
  const situation = describeSituation(input, facts);
  const refusals = refuseLimits(limits, situation, slotId);
  const refused = refusals.map((refusal) => refusal.limitId);
  if (!container) {
    const hasFormat = refusals.some((refusal) => refusal.reason === 'format-not-made');
    return {
      plan: null,
      refusals: hasFormat ? refusals : [...refusals, refuseFormat(facts, ceilings)],
      refused,
    };
  }
  const fileName = nameFile(input, ceilings, container);
  if (isStillKind(facts.kind)) {
    const plan = planPhoto(facts, recipe, ceilings, container as PhotoPlan['container'], fileName);
    return { plan, refusals: plan ? refusals : [...refusals, refuseSize(input, ceilings)], refused };
  }
  const plan =
    facts.kind === 'sound'
      ? planSoundOnly(input, ceilings, container as SoundOnlyPlan['container'], fileName)
      : planVideo(input, ceilings, container as VideoPlan['container'], fileName);
  return { plan, refusals: plan ? refusals : [...refusals, refuseSize(input, ceilings)], refused };
}

/** Only the sound of a video, where sound is what the assignment wants. */
function planSoundOfVideo(input: PlanInput, limits: readonly Limit[]): Planned | null {
  const slotId = input.slotId ?? null;
  const ceilings = readCeilings(limits, 'sound', { slotId });
  const facts: MediaFacts = { ...input.facts, kind: 'sound', video: null };
  const container = ceilings.wantedContainers ? chooseContainer('sound', ceilings, null) : null;
  if (!container) return null;
  const asSound = { ...input, facts };
  const moment = refuseMoment(input.recipe, facts);
  if (moment) return { plan: null, refusals: [moment], refused: [] };
  const refusals = refuseLimits(limits, describeSituation(asSound, facts), slotId);
  const fileName = nameFile(input, ceilings, container);
  const plan = planSoundOnly(asSound, ceilings, container as SoundOnlyPlan['container'], fileName);
  return {
    plan,
    refusals: plan ? refusals : [...refusals, refuseSize(asSound, ceilings)],
    refused: refusals.map((refusal) => refusal.limitId),
  };
}

/** What the recipe may ask for and cannot be made yet, told rather than dropped. */
function refuseRecipe({ recipe, facts, series, otherTakeIds = [] }: PlanInput): Refusal | null {
  const refuse = (message: string): Refusal => ({ reason: 'recipe-not-made', message });
  const isHere = (source: RecipeSource) => source.takeId !== null && otherTakeIds.includes(source.takeId);
  const sound = readSoundSource(recipe);
  if (sound && !isHere(sound)) return refuse('The separate recording of the sound is not there any more.');
  const joined = listJoinedSources(recipe);
  if (joined.some((source) => !isHere(source)))
    return refuse('A take that parts were joined from is not there any more, or is still being measured.');
  if (joined.length > 0 && sound)
    return refuse('A separate recording of the sound goes with one take: leave it out, or the other takes.');
  const places = (series.places ?? []).filter((place) => !place.drawn);
  if (joined.length > 0 && (isStillKind(facts.kind) || places.length !== joined.length + 1))
    return refuse('Only takes of one kind can be joined: videos with videos, sound with sound.');
  const { picture, card } = recipe;
  if (card && facts.kind !== 'video') return refuse('An opening card stands before a video.');
  if (isStillKind(facts.kind)) {
    if (picture.hidden.length > 0 || picture.steady !== null)
      return refuse('Photographs are not steadied, and nothing is hidden in them yet.');
    if (facts.document && isReshaped(picture))
      return refuse('The pages of a document stay as they are: bring the picture itself in to shape it.');
  } else if (picture.flatten) return refuse('Only a photograph can be flattened.');
  if (facts.kind === 'video' && picture.steady !== null && !series.shake)
    return refuse('How the camera shook has not been measured yet.');
  if (facts.kind === 'video' && series.frames === null)
    return { reason: 'recipe-not-made', message: 'The take has not been measured yet.' };
  return facts.kind === 'sound' ? refuseMoment(recipe, facts) : null;
}

/** Coders of sound need a few of their blocks; less than this is a press too many, not a part. */
const LEAST_SOUND_US = 100_000;

function refuseMoment({ spans }: PlanInput['recipe'], { durationUs }: MediaFacts): Refusal | null {
  if (spans.length === 0 || (durationUs ?? 0) < LEAST_SOUND_US) return null;
  const endUs = durationUs ?? 0;
  const keptUs = spans.reduce(
    (sum, span) => sum + Math.max(0, Math.min(span.finishUs, endUs) - span.startUs),
    0,
  );
  if (keptUs >= LEAST_SOUND_US) return null;
  return {
    reason: 'too-short',
    availableUs: Math.round(keptUs),
    wantedUs: LEAST_SOUND_US,
    message: 'Less than a tenth of a second is kept. Move start and finish apart.',
  };
}

/** The take and what its recipe asks for, as the rows of the limits look at it. */
export function describeSituation(input: PlanInput, facts: MediaFacts): Situation {
  const picture = readPictureSize(facts);
  const isTimed = facts.kind === 'video' || facts.kind === 'sound';
  const rate = facts.video?.frameRate ?? null;
  const timeline = isTimed ? buildTakeTimeline(facts, input.series, input.recipe, rate) : null;
  return {
    kind: facts.kind,
    facts,
    wholeUs: isTimed ? (facts.durationUs ?? 0) : null,
    keptUs: timeline?.durationUs ?? null,
    size: picture && facts.kind !== 'sound' ? frameSize(picture, input.recipe.picture) : null,
    level: measureKeptLevel(facts, input.series, input.recipe),
  };
}

function planVideo(
  input: PlanInput,
  ceilings: Ceilings,
  container: VideoPlan['container'],
  fileName: string,
): VideoPlan | null {
  const { facts, recipe, series } = input;
  const { video } = facts;
  if (!video || !series.frames) return null;
  const videoCodec = chooseVideoCodec(container, ceilings);
  const soundCodec = chooseSoundCodec(container, ceilings);
  const choice = input.choice ?? null;
  if (!videoCodec) return null;
  const picture = planPicture({
    facts,
    video,
    recipe,
    series,
    ceilings,
    choice,
    samples: input.samples ?? null,
    preference: input.preference ?? 'balanced',
    planSound: (durationUs) =>
      soundCodec &&
      planVideoSound(facts, ceilings, {
        durationUs,
        codec: soundCodec,
        gainDb: recipe.sound.gainDb,
        need: input.soundNeed ?? 'music',
        wishedBps: choice?.soundBps ?? null,
        maxBytes: choice?.maxBytes ?? null,
      }),
  });
  if (!picture) return null;
  const plan: VideoPlan = {
    kind: 'video',
    fileName,
    container,
    method: 'code',
    cut: {
      recipe,
      ...picture.size,
      frameRate: picture.frameRate,
      frameCount: picture.frameCount,
      durationUs: picture.durationUs,
      toneMapFrom: video.hdr,
      isDeinterlaced: isDeinterlaced(recipe.picture, video),
    },
    rate: {
      maxBytes: picture.maxBytes,
      videoCodec,
      videoBps: picture.videoBps,
      usefulBps: picture.usefulBps,
      leastCrf: picture.leastCrf,
      model: picture.model,
    },
    prediction: {
      bytes: Math.max(1, Math.round((picture.videoBps * picture.durationUs) / 8e6 + picture.otherBytes)),
      ssim: picture.predictedSsim,
      ownSsim: picture.predictedOwnSsim,
    },
    sound: picture.sound,
  };
  return (choice === null ? planCopy(plan, facts, ceilings) : null) ?? plan;
}

/** Whether half pictures are made whole: where they were found, or as the recipe says. */
function isDeinterlaced({ deinterlace }: Recipe['picture'], { interlace }: { interlace: string }): boolean {
  return deinterlace === 'always' || (deinterlace === 'where-found' && interlace !== 'progressive');
}

/** Bits a point that a picture of usual detail takes at good quality, by format. */
const BITS_PER_PIXEL: Readonly<Record<PhotoPlan['container'], number>> = {
  jpeg: 3.2,
  webp: 2.4,
  png: 14,
  tiff: 24,
  pdf: 3.2,
};
/** How many more a picture takes at the highest quality, which it gets where its bytes are limited. */
const USED_SHARE = 2;
/**
 * Below this, at the points that have to stay, only making it tells whether it fits; below that nothing fits.
 */
const TIGHT_BITS_PER_PIXEL = 2.4;
const LEAST_BITS_PER_PIXEL = 0.04;

function planPhoto(
  facts: MediaFacts,
  recipe: Recipe,
  ceilings: Ceilings,
  container: PhotoPlan['container'],
  fileName: string,
): PhotoPlan | null {
  const picture = readPictureSize(facts);
  if (!picture) return null;
  const size = fitSizeInside(measureShaped(picture, recipe.picture), ceilings.size);
  // A document that fits as it is stays as it is.
  const isKept = container === 'pdf' && facts.container === 'pdf';
  const pixels = size.widthPx * size.heightPx;
  const isLossless = container === 'png' || container === 'tiff';
  const usedShare = ceilings.maxBytes === null || isLossless ? 1 : USED_SHARE;
  const usualBytes = Math.round((pixels * BITS_PER_PIXEL[container] * usedShare) / 8) + 1024;
  const freeBytes = isKept ? facts.sizeBytes : usualBytes;
  const short = Math.min(size.widthPx, size.heightPx);
  const long = Math.max(size.widthPx, size.heightPx);
  const { floors, maxBytes } = ceilings;
  const byWidth = (floors.widthPx * short) / size.widthPx;
  const byHeight = (floors.heightPx * short) / size.heightPx;
  const least = Math.max(floors.shortEdgePx, (floors.longEdgePx * short) / long, byWidth, byHeight);
  const leastShortEdgePx = Math.max(
    1,
    Math.min(short, Math.max(Math.ceil(least - 1e-9), Math.round(short / 8))),
  );
  const leastPixels = pixels * (leastShortEdgePx / short) ** 2;
  const leastBits = maxBytes === null ? Infinity : (maxBytes * 8) / leastPixels;
  if (leastBits < LEAST_BITS_PER_PIXEL && !isKept) return null;
  return {
    kind: 'photo',
    fileName,
    container,
    recipe,
    maxBytes,
    ...size,
    leastShortEdgePx,
    prediction: {
      bytes: Math.min(freeBytes, maxBytes === null ? Infinity : Math.floor(maxBytes * AIM_SHARE) || 1),
      isTight:
        leastBits < (isLossless ? BITS_PER_PIXEL[container] * 1.4 : TIGHT_BITS_PER_PIXEL) ||
        (isKept && maxBytes !== null && facts.sizeBytes > maxBytes),
    },
  };
}

function nameFile(input: PlanInput, ceilings: Ceilings, container: ContainerId): string {
  const ending = containerTable[container].endings[0] ?? '';
  const wanted =
    ceilings.namePattern && input.nameContext
      ? parseWantedPattern(ceilings.namePattern).fill(input.nameContext)
      : null;
  return buildSafeFileName(wanted ?? readStem(input.takeName), ending);
}

function refuseFormat(facts: MediaFacts, ceilings: Ceilings): Refusal {
  const { kind } = facts;
  const codecs = [
    ...(kind === 'video' ? (ceilings.wantedVideoCodecs ?? []) : []),
    ...(facts.sound ? (ceilings.wantedSoundCodecs ?? []) : []),
  ];
  const wanted = [
    ...(ceilings.wantedContainers ?? []).map((id) => containerTable[id].label),
    ...codecs.map(writeCodec),
  ];
  const coded = { mp4: ' (H.264 or HEVC)', mov: ' (H.264 or HEVC)', webm: ' (VP9)' } as const;
  const possible = MADE_CONTAINERS[kind]
    .filter((id) => !ceilings.refusedContainers.includes(id))
    .map(
      (id) =>
        containerTable[id].label +
        (ceilings.wantedVideoCodecs && id in coded ? coded[id as keyof typeof coded] : ''),
    );
  const what = wanted.join(' or ') || 'The wanted format';
  return {
    reason: 'format-not-made',
    wanted,
    possible,
    message: `${what} cannot be made from this take. Possible: ${possible.join(', ')}.`,
  };
}
