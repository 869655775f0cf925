import type { Preference } from '../fit/curves.ts';
import type { FitSamples } from '../fit/samples.ts';
import { AIM_SHARE, estimateMp4Overhead, LEAST_VIDEO_BPS } from '../fit/video-budget.ts';
import { fitSizeInside, turnSize, type SizePx } from '../geometry/turn.ts';
import { writeCodec } from '../limits/file-rows.ts';
import type { Limit } from '../limits/limit.ts';
import type { TakeComplexity } from '../media/analysis.ts';
import { containerTable, type ContainerId, type MediaKind } from '../media/containers.ts';
import { readRate, type MediaFacts } from '../media/facts.ts';
import { parseWantedPattern, type NameContext } from '../naming/pattern.ts';
import { buildSafeFileName, readStem } from '../naming/safe-name.ts';
import type { Recipe } from '../recipe/recipe.ts';
import type { SoundNeed } from '../sound/sound-need.ts';
import type { FrameTimes } from '../time/frame-times.ts';
import { measureRangeUs, type TimeRange } from '../time/range.ts';
import { formatBytes } from '../units/bytes.ts';
import { formatDuration } from '../units/duration.ts';
import { planCopy } from './plan-copy.ts';
import { countDivisor, planPicture } from './plan-picture.ts';
import { chooseRate, planVideoSound } from './plan-sound.ts';
import type { PhotoPlan, Plan, Refusal, SoundOnlyPlan, VideoPlan } from './plan.ts';
import { readCeilings, type Ceilings } from './read-ceilings.ts';

export interface PlanInput {
  readonly facts: MediaFacts;
  readonly recipe: Recipe;
  readonly limits: readonly Limit[];
  /** Time of every frame; null for photographs and sound. */
  readonly frames: FrameTimes | null;
  /** Name of the take as it came in. */
  readonly takeName: string;
  readonly nameContext: NameContext | null;
  /** What samples of the take came to; without them the plan goes by bits a pixel. */
  readonly samples?: FitSamples | null;
  readonly complexity?: TakeComplexity | null;
  readonly preference?: Preference;
  /** What the sound is; music where nothing is said. */
  readonly soundNeed?: SoundNeed;
}

export interface PlanResult {
  /** null where no file that means anything can be made. */
  readonly plan: Plan | null;
  /** *Musts* that cannot be met with this take and recipe; a plan may still stand beside them. */
  readonly refusals: readonly Refusal[];
}

/** Turns facts, recipe and limits into the exact output settings and the predicted figures. Pure and deterministic. */
export function buildPlan(input: PlanInput): PlanResult {
  const ceilings = readCeilings(input.limits, input.facts.kind);
  const container = chooseContainer(input.facts.kind, ceilings, input.facts);
  const asSound =
    container === null && input.facts.kind === 'video' && input.facts.sound ? planSoundOfVideo(input) : null;
  if (asSound) return asSound;
  if (!container) return { plan: null, refusals: [refuseFormat(input.facts, ceilings)] };
  const mustLimits = input.limits.filter((limit) => limit.severity === 'must');
  const refusals = findImpossible(input, readCeilings(mustLimits, input.facts.kind), mustLimits);
  const fileName = nameFile(input, ceilings, container);
  if (input.facts.kind === 'photo')
    return { plan: planPhoto(input, ceilings, container as PhotoPlan['container'], fileName), refusals };
  if (input.facts.kind === 'sound') {
    const plan = planSoundOnly(input, ceilings, container as SoundOnlyPlan['container'], fileName);
    return { plan, refusals: plan ? refusals : [...refusals, refuseSize(input, ceilings)] };
  }
  const plan = planVideo(input, ceilings, container as VideoPlan['container'], fileName);
  return { plan, refusals: plan ? refusals : [...refusals, refuseSize(input, ceilings)] };
}

/** Only the sound of a video, where sound is what the assignment wants. */
function planSoundOfVideo(input: PlanInput): PlanResult | null {
  const ceilings = readCeilings(input.limits, 'sound');
  const container = ceilings.wantedContainers ? chooseContainer('sound', ceilings, null) : null;
  if (!container) return null;
  const limits = input.limits.filter((limit) => limit.severity === 'must');
  const facts: MediaFacts = { ...input.facts, kind: 'sound', video: null };
  const asSound = { ...input, facts };
  const refusals = findImpossible(asSound, readCeilings(limits, 'sound'), limits);
  const plan = planSoundOnly(
    asSound,
    ceilings,
    container as SoundOnlyPlan['container'],
    nameFile(input, ceilings, container),
  );
  return { plan, refusals: plan ? refusals : [...refusals, refuseSize(asSound, ceilings)] };
}

const PREFERRED: Readonly<Record<MediaKind, readonly ContainerId[]>> = {
  video: ['mp4', 'mov', 'webm'],
  sound: ['m4a', 'mp3', 'wav', 'flac', 'ogg'],
  photo: ['jpeg', 'png', 'webp', 'tiff', 'pdf'],
};

export function chooseContainer(
  kind: MediaKind,
  ceilings: Ceilings,
  source: Pick<MediaFacts, 'container' | 'photo'> | null,
): ContainerId | null {
  const isDocument = source?.container === 'pdf';
  // Several pages do not go into one picture.
  const makeable = PREFERRED[kind].filter(
    (id) =>
      !ceilings.refusedContainers.includes(id) &&
      (!hasSeveralPages(source) || id === 'pdf') &&
      (kind !== 'video' || chooseVideoCodec(id, ceilings) !== null),
  );
  const wanted = ceilings.wantedContainers;
  const possible = wanted ? makeable.filter((id) => wanted.includes(id)) : makeable;
  if (source && (isDocument || (!wanted && kind === 'sound')) && possible.includes(source.container))
    return source.container;
  return possible[0] ?? null;
}

/** How the picture is coded in a container: what every player knows, and another way only where it is asked for. */
export function chooseVideoCodec(
  container: ContainerId,
  ceilings: Pick<Ceilings, 'wantedVideoCodecs' | 'refusedVideoCodecs'>,
): VideoPlan['videoCodec'] | null {
  const { wantedVideoCodecs: wanted, refusedVideoCodecs: refused } = ceilings;
  const made: readonly VideoPlan['videoCodec'][] = container === 'webm' ? ['vp9'] : ['h264', 'hevc'];
  return (
    made.find((codec) => (wanted === null || wanted.includes(codec)) && !refused.includes(codec)) ?? null
  );
}

function hasSeveralPages(source: Pick<MediaFacts, 'container' | 'photo'> | null): boolean {
  return source?.container === 'pdf' && (source.photo?.frameCount ?? 1) > 1;
}

/** What a plan keeps: whole frames of the recipe's range, or all of the take. */
export function resolveKeep(facts: MediaFacts, recipe: Recipe, frames: FrameTimes | null): TimeRange {
  const whole = {
    startUs: facts.video ? (frames?.timesUs[0] ?? facts.video.startUs) : 0,
    finishUs: frames?.endUs ?? facts.durationUs ?? 1,
  };
  if (!recipe.keep) return whole;
  return {
    startUs: Math.max(whole.startUs, recipe.keep.startUs),
    finishUs: Math.max(Math.min(whole.finishUs, recipe.keep.finishUs), recipe.keep.startUs + 1),
  };
}

function planVideo(
  input: PlanInput,
  ceilings: Ceilings,
  container: VideoPlan['container'],
  fileName: string,
): VideoPlan | null {
  const { facts, recipe, frames } = input;
  const video = facts.video;
  if (!video || !frames) return null;
  const keep = resolveKeep(facts, recipe, frames);
  const picture = planPicture({
    video,
    recipe,
    frames,
    keep,
    ceilings,
    samples: input.samples ?? null,
    complexity: input.complexity ?? null,
    preference: input.preference ?? 'balanced',
    planSound: (durationUs) =>
      planVideoSound(facts, ceilings, {
        durationUs,
        codec: container === 'webm' ? 'opus' : 'aac',
        gainDb: recipe.soundGainDb,
        need: input.soundNeed ?? 'music',
        wishedBps: recipe.fit?.soundBps ?? null,
        maxBytes: recipe.fit?.maxBytes ?? null,
      }),
  });
  if (!picture) return null;
  const plan: VideoPlan = {
    kind: 'video',
    maxBytes: picture.maxBytes,
    fileName,
    predictedBytes: Math.max(
      1,
      Math.round((picture.videoBps * picture.durationUs) / 8e6 + picture.otherBytes),
    ),
    recipe,
    container,
    method: 'code',
    keep,
    ...picture.size,
    frameRate: picture.frameRate,
    frameCount: picture.frameCount,
    videoCodec: chooseVideoCodec(container, ceilings) ?? 'h264',
    videoBps: picture.videoBps,
    usefulBps: picture.usefulBps,
    leastCrf: picture.leastCrf,
    rateModel: picture.rateModel,
    predictedSsim: picture.predictedSsim,
    predictedOwnSsim: picture.predictedOwnSsim,
    toneMapFrom: video.hdr,
    isDeinterlaced: video.interlace !== 'progressive',
    sound: picture.sound,
  };
  return planCopy(plan, facts, ceilings) ?? plan;
}

function planSoundOnly(
  input: PlanInput,
  ceilings: Ceilings,
  container: SoundOnlyPlan['container'],
  fileName: string,
): SoundOnlyPlan | null {
  const source = input.facts.sound;
  if (!source) return null;
  const keep = resolveKeep(input.facts, input.recipe, null);
  const seconds = measureRangeUs(keep) / 1_000_000;
  const codec = ({ m4a: 'aac', mp3: 'mp3', wav: 'pcm', flac: 'flac', ogg: 'opus' } as const)[container];
  const channels = Math.min(ceilings.channels ?? 2, 2, source.channels);
  const rateHz = chooseRate(
    source.rateHz,
    ceilings,
    codec === 'opus' ? [48_000] : [48_000, 44_100, 32_000, 24_000, 16_000],
  );
  const rawBps = rateHz * channels * 16;
  const availableBps =
    ceilings.maxBytes === null ? Infinity : ((ceilings.maxBytes * AIM_SHARE - 4096) * 8) / seconds;
  const isLossless = codec === 'pcm' || codec === 'flac';
  const steps = [256_000, 192_000, 160_000, 128_000, 96_000, 64_000, 48_000, 32_000].map(
    (bps) => (bps * channels) / 2,
  );
  const bitrateBps = isLossless ? null : (steps.find((bps) => bps <= availableBps) ?? null);
  if (isLossless ? rawBps * (codec === 'flac' ? 0.5 : 1) > availableBps : bitrateBps === null) return null;
  return {
    kind: 'sound',
    maxBytes: ceilings.maxBytes,
    fileName,
    predictedBytes: Math.max(
      1,
      Math.round(((bitrateBps ?? rawBps * (codec === 'flac' ? 0.6 : 1)) * seconds) / 8 + 2048),
    ),
    recipe: input.recipe,
    container,
    keep,
    sound: { codec, bitrateBps, channels, rateHz, gainDb: input.recipe.soundGainDb, isCopied: false },
  };
}

function planPhoto(
  input: PlanInput,
  ceilings: Ceilings,
  container: PhotoPlan['container'],
  fileName: string,
): PhotoPlan | null {
  const photo = input.facts.photo;
  if (!photo) return null;
  const size = fitSizeInside(turnSize(photo, input.recipe.turnDegrees), ceilings.size);
  const bitsPerPixel = { jpeg: 3.2, webp: 2.4, png: 14, tiff: 24, pdf: 3.2 }[container];
  // A document that fits as it is stays as it is.
  const isKept = container === 'pdf' && input.facts.container === 'pdf';
  const freeBytes = isKept
    ? input.facts.sizeBytes
    : Math.round((size.widthPx * size.heightPx * bitsPerPixel) / 8) + 1024;
  const short = Math.min(size.widthPx, size.heightPx);
  const long = Math.max(size.widthPx, size.heightPx);
  return {
    kind: 'photo',
    maxBytes: ceilings.maxBytes,
    fileName,
    predictedBytes: Math.min(
      freeBytes,
      ceilings.maxBytes === null ? Infinity : Math.floor(ceilings.maxBytes * AIM_SHARE) || 1,
    ),
    recipe: input.recipe,
    container,
    ...size,
    leastShortEdgePx: Math.max(
      1,
      Math.min(
        short,
        Math.max(
          ceilings.floors.shortEdgePx,
          Math.ceil((ceilings.floors.longEdgePx * short) / long),
          Math.round(short / 8),
        ),
      ),
    ),
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

function findImpossible(input: PlanInput, musts: Ceilings, limits: readonly Limit[]): Refusal[] {
  const refusals: Refusal[] = [];
  const { facts, recipe } = input;
  const availableUs = facts.kind === 'photo' ? null : (facts.durationUs ?? 0);
  if (availableUs !== null && musts.minUs !== null && availableUs < musts.minUs) {
    refusals.push({
      reason: 'too-short',
      availableUs,
      wantedUs: musts.minUs,
      message: `The take runs ${formatDuration(availableUs)}; at least ${formatDuration(musts.minUs)} is wanted. Record a longer one.`,
    });
  }
  const picture = facts.video ?? facts.photo;
  if (picture) {
    const size = turnSize({ widthPx: picture.widthPx, heightPx: picture.heightPx }, recipe.turnDegrees);
    const missing = findMissingPixels(size, musts.floors);
    if (missing)
      refusals.push({
        reason: 'picture-too-small',
        ...missing,
        message: `The picture has ${missing.availablePx} px where at least ${missing.wantedPx} px are wanted. Enlarging would add no detail: record or photograph it again at a higher setting.`,
      });
    const orientation = limits.find(
      (limit) =>
        limit.kind === 'orientation' && (limit.appliesTo === 'any' || limit.appliesTo === facts.kind),
    );
    if (
      orientation?.kind === 'orientation' &&
      orientation.wanted !== 'square' &&
      isHeldOtherwise(size, orientation.wanted)
    ) {
      refusals.push({
        reason: 'cannot-be-changed',
        limitId: orientation.id,
        message:
          orientation.wanted === 'landscape'
            ? 'It was filmed upright and is wanted sideways. Turn it in Shape if it lies on its side; otherwise record it again.'
            : 'It was filmed sideways and is wanted upright. Turn it in Shape if it lies on its side; otherwise record it again.',
      });
    }
  }
  return refusals;
}

function findMissingPixels(
  size: SizePx,
  floors: Ceilings['floors'],
): { availablePx: number; wantedPx: number } | null {
  const pairs: [number, number][] = [
    [size.widthPx, floors.widthPx],
    [size.heightPx, floors.heightPx],
    [Math.max(size.widthPx, size.heightPx), floors.longEdgePx],
    [Math.min(size.widthPx, size.heightPx), floors.shortEdgePx],
  ];
  const short = pairs.find(([available, wanted]) => available < wanted);
  return short ? { availablePx: short[0], wantedPx: short[1] } : null;
}

function isHeldOtherwise(size: SizePx, wanted: 'landscape' | 'portrait'): boolean {
  return wanted === 'landscape' ? size.widthPx <= size.heightPx : size.heightPx <= size.widthPx;
}

/** Lines that a refusal speaks of, the first that lets anything worth watching fit. */
const REFUSAL_LINES = [480, 360, 240] as const;
/** With so many bits for each pixel of each frame a picture can be followed. */
const WATCHABLE_BITS_PER_PIXEL = 0.02;
const WORTH_WATCHING_US = 5_000_000;

/** Says by bisection on the real budget how long a part would fit at how many lines, and how many bytes all of it would take. */
function refuseSize(input: PlanInput, ceilings: Ceilings): Refusal {
  const { facts } = input;
  const maxBytes = ceilings.maxBytes ?? 0;
  const durationUs = measureRangeUs(resolveKeep(facts, input.recipe, input.frames));
  const ways = facts.video
    ? REFUSAL_LINES.map((lines) => ({ lines, ...measureNeed(input, ceilings, maxBytes, durationUs, lines) }))
    : [{ lines: null, ...measureNeed(input, ceilings, maxBytes, durationUs, null) }];
  const way =
    ways.find((each) => each.atMostUs >= Math.min(WORTH_WATCHING_US, durationUs / 20)) ?? ways.at(-1);
  if (!way) throw new TypeError('A way was expected.');
  const { lines, atMostUs, needsBytes } = way;
  const longest =
    atMostUs < 500_000
      ? `nothing that can be ${lines === null ? 'heard' : 'watched'} would`
      : `at most ${formatDuration(atMostUs, 0)} would${lines === null ? '' : ` at ${lines} lines`}`;
  return {
    reason: 'too-long-for-size',
    atMostUs,
    needsBytes,
    lines,
    message: `${formatDuration(durationUs)} does not fit in ${formatBytes(maxBytes)}: ${longest}, or ask for ${formatBytes(needsBytes)}.`,
  };
}

function measureNeed(
  input: PlanInput,
  ceilings: Ceilings,
  maxBytes: number,
  durationUs: number,
  lines: number | null,
): { atMostUs: number; needsBytes: number } {
  const { facts } = input;
  const { video } = facts;
  const rate = video ? readRate(video.frameRate) / countDivisor(video.frameRate, ceilings.maxFrameRate) : 0;
  const channels = Math.min(2, facts.sound?.channels ?? 0);
  const size =
    video && lines !== null
      ? fitSizeInside(
          turnSize(video, input.recipe.turnDegrees),
          { ...ceilings.size, shortEdgePx: Math.min(lines, ceilings.size.shortEdgePx ?? Infinity) },
          2,
        )
      : null;
  const pictureBps = size
    ? Math.max(LEAST_VIDEO_BPS, size.widthPx * size.heightPx * rate * WATCHABLE_BITS_PER_PIXEL)
    : 0;
  const leastBps = size ? pictureBps + 24_000 * channels : 16_000 * channels;
  const needOf = (us: number) =>
    ((leastBps * us) / 8e6 + estimateMp4Overhead((us * rate) / 1e6, (us * 48) / 1_024_000, us) + 4096) /
    AIM_SHARE;
  let [low, high] = [0, durationUs];
  while (high - low > 1000) {
    const middle = Math.floor((low + high) / 2);
    if (needOf(middle) <= maxBytes) low = middle;
    else high = middle;
  }
  return { atMostUs: low, needsBytes: Math.ceil(needOf(durationUs) * 1.01) };
}

function refuseFormat(facts: MediaFacts, ceilings: Ceilings): Refusal {
  const { kind } = facts;
  const wanted = [
    ...(ceilings.wantedContainers ?? []).map((id) => containerTable[id].label),
    ...(kind === 'video' ? (ceilings.wantedVideoCodecs ?? []) : []).map(writeCodec),
  ];
  const possible = PREFERRED[kind]
    .filter((id) => !ceilings.refusedContainers.includes(id))
    .map((id) =>
      kind === 'video' && ceilings.wantedVideoCodecs
        ? `${containerTable[id].label} (${id === 'webm' ? 'VP9' : 'H.264 or HEVC'})`
        : containerTable[id].label,
    );
  if (hasSeveralPages(facts))
    return {
      reason: 'format-not-made',
      wanted,
      possible: ['PDF'],
      message: `This document has ${facts.photo?.frameCount ?? 0} pages; ${wanted.join(' or ') || 'the wanted format'} holds one picture. Bring in the page that is wanted on its own.`,
    };
  return {
    reason: 'format-not-made',
    wanted,
    possible,
    message: `${wanted.join(' or ') || 'The wanted format'} cannot be made from this take. Possible: ${possible.join(', ')}.`,
  };
}
