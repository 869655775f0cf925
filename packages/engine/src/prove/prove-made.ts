import {
  ApodixError,
  buildTimeline,
  chooseShapedSizes,
  frameSize,
  measureShaped,
  isReshaped,
  chooseMix,
  measureMendedChange,
  mendSoundEvidence,
  drawCardIn,
  drawDissolves,
  shapeEvidence,
  softenEvidence,
  chooseColorFrames,
  findDivisor,
  holdColors,
  holdEvidence,
  holdGeometry,
  judgeProof,
  measureSoundLevel,
  describeTimelineSource,
  listJoinedSources,
  listKeptRanges,
  placeSpans,
  planTakeSteady,
  type ClarityEvidence,
  type ColorPair,
  chooseHiddenStep,
  HiddenLook,
  type Evidence,
  type FrameTimes,
  type MediaFacts,
  type ProofEvidence,
  type ProofFinding,
  type Recipe,
  type SoundMatch,
  type Steadied,
  type Stance,
  type TakeSeries,
  type Timeline,
} from '@apodix/core';
import { drawSmallCard } from '../card/draw-card.ts';
import { inspectForProof } from '../bring-in/bring-in.ts';
import { probeGrayFrames } from '../inspect/probes/gray-frames.ts';
import { inspectStill } from '../photo/inspect-still.ts';
import type { DecodeOutput } from '../inspect/measure-decode.ts';
import { lookSteadied } from '../steady/look-steadied.ts';
import { settleAll } from '../process/settle-all.ts';
import { compareCoded, hashPictures } from './compare-coded.ts';

/** A recording and what its inspection left: all that a proof knows of it. */
export interface ProvenTake {
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
  readonly evidence: Evidence;
}

export interface ProveInput {
  readonly madePath: string;
  readonly recipe: Recipe;
  readonly take: ProvenTake;
  /** Where the recording lies: looked at again where it was steadied. */
  readonly takePath?: string;
  /**
   * The timeline that it was made by; without it that which the recipe gives at the rate of the made file.
   */
  readonly timeline: Timeline | null;
  /** Whether sound is wanted in it; by the recording where nobody says. */
  readonly isSoundWanted: boolean | null;
  /** What else is done while it is decoded. */
  readonly alongside?: DecodeOutput;
  /** Where the recording lies, if its coded picture was taken over, and how many pictures were coded anew. */
  readonly takenOver?: { readonly takePath: string; readonly recodedCount: number } | null;
  /** Tells how clear it is once it has been decoded; undefined where that is not asked for. */
  readonly measureClarity?: (
    made: MediaFacts,
    timeline: Timeline | null,
  ) => Promise<ClarityEvidence | null | undefined>;
  readonly signal?: AbortSignal;
  readonly onShare?: (share: number) => void;
}

export interface Proof {
  readonly facts: MediaFacts;
  readonly findings: readonly ProofFinding[];
  readonly sound: SoundMatch | null;
}

/** Pictures in color that are compared at the most. */
const MOST_COLORS = 240;
/** A rate within this share of the recording's own is its own: containers round it. */
const SAME_RATE = 0.0011;

/**
 * Decodes the whole made file, once, and holds every frame, its colors, and the sound along its whole length
 * against the places that the timeline gives them. It knows nothing of how the file was made.
 */
export async function proveMade(input: ProveInput): Promise<Proof> {
  const take = await lookCloser(input);
  const { recipe } = input;
  const { signatures: small } = take.evidence;
  const sizes =
    small || take.facts.kind !== 'video' ? chooseShapedSizes(take.evidence, recipe.picture) : null;
  const { source, stance } = await describeSource({ ...input, take });
  let timeline = input.timeline;
  let look: HiddenLook | null = null as HiddenLook | null;
  const { takenOver } = input;
  const inspection = inspectForProof(input.madePath, {
    sizes,
    wantsCoded: Boolean(takenOver),
    chooseColors: ({ video, sound }) => {
      timeline ??= buildOwnTimeline(take, recipe, video, sound);
      return timeline ? chooseColorFrames([source.colors], timeline, MOST_COLORS) : [];
    },
    buildProbes: ({ video }) => {
      look = timeline && buildHiddenLook(take, recipe, timeline);
      const every = chooseHiddenStep(timeline?.frameCount ?? 1);
      const own = look;
      return video && own
        ? [probeGrayFrames(video, every, (frame, levels, size) => own.add(frame, levels, size))]
        : [];
    },
    ...(input.alongside ? { alongside: input.alongside } : {}),
    ...(input.signal ? { signal: input.signal } : {}),
    ...(input.onShare ? { onShare: input.onShare } : {}),
  });
  const [inspected, sourcePictures] = await settleAll([
    inspection,
    takenOver ? hashPictures(takenOver.takePath, take.facts, input.signal) : Promise.resolve([]),
  ]);
  const { facts } = inspected;
  const isStill = inspected.decoded === null;
  const clarity =
    takenOver && timeline
      ? compareCoded(sourcePictures, inspected.codedPictures ?? [], timeline, takenOver.recodedCount)
      : await input.measureClarity?.(facts, timeline);
  const wantsSound = input.isSoundWanted ?? take.facts.sound !== null;
  const held =
    timeline && !isStill
      ? holdEvidence({
          sources: [source],
          timelineSources: [describeTimelineSource(take.facts, take.series)],
          made: softenEvidence(countFromPicture(inspected.evidence, facts), recipe.picture),
          timeline,
          stance,
          wish: {
            gainDb: recipe.sound.gainDb,
            channels: facts.sound?.channels ?? 2,
            fadeInUs: recipe.sound.fadeInUs,
            fadeOutUs: recipe.sound.fadeOutUs,
          },
        })
      : holdStill(source, softenEvidence(inspected.evidence, recipe.picture), stance);
  const proof: ProofEvidence = {
    facts,
    timeline: isStill ? null : timeline,
    decoded: inspected.decoded,
    ...held,
    ...(recipe.picture.hidden.length > 0 && facts.video ? { hidden: look?.found ?? null } : {}),
    proportions: compareProportions(take.facts, facts, recipe),
    clarity,
    isToneMapped: take.facts.video?.hdr !== null && take.facts.video !== null,
    isReshaped: isReshaped(recipe.picture),
    isSoundWanted: !isStill && wantsSound && take.facts.sound !== null,
    expectedLufs:
      timeline && !isStill ? expectLoudness(take, recipe, timeline, facts, input.timeline === null) : null,
    about: recipe.picture.about,
    pages: countPages(take.facts, facts),
  };
  return { facts, findings: judgeProof(proof), sound: held.sound };
}

/** Longer edge at which a photograph is looked at again, and its made file, where it was flattened. */
const CLOSE_EDGE = 384;

/**
 * The take with a larger picture of it than inspection left, where it was flattened: a piece is a part of its
 * photograph, and at a slant some of it has few points in a small one.
 */
async function lookCloser({ take, takePath, recipe, signal }: ProveInput): Promise<ProvenTake> {
  const { facts } = take;
  if (!facts.photo || (!recipe.picture.flatten && !recipe.picture.light)) return take;
  if (takePath === undefined)
    throw new ApodixError('BAD_REQUEST', { detail: 'A flattened photograph has to be looked at again.' });
  const scale = CLOSE_EDGE / Math.max(facts.photo.widthPx, facts.photo.heightPx);
  const size = {
    widthPx: Math.max(2, Math.round(facts.photo.widthPx * scale)),
    heightPx: Math.max(2, Math.round(facts.photo.heightPx * scale)),
  };
  const sizes = { signature: size, color: size };
  const { evidence } = await inspectStill(takePath, facts.container, facts.sizeBytes, sizes, signal);
  return { ...take, evidence };
}

/**
 * The recording's evidence as the recipe shapes it, with what is drawn in it, and how it still has to be
 * turned.
 */
async function describeSource(input: ProveInput): Promise<{ source: Evidence; stance: Stance }> {
  const { take, recipe } = input;
  const { turnDegrees, isMirrored } = recipe.picture;
  const size = take.facts.video ?? take.facts.photo;
  const { sound } = take.evidence;
  const { places = null, frames } = take.series;
  const heard = { ...take.evidence, sound: sound && mendSoundEvidence(sound, recipe.sound) };
  const isDrawn = recipe.card !== null && take.facts.video !== null;
  const isTurned = isReshaped(recipe.picture) || isDrawn;
  if (!size || (!isTurned && !places)) return { source: heard, stance: { turnDegrees, isMirrored } };
  const shaped = shapeEvidence(heard, size, recipe.picture, listOwnFrames(take.series), {
    isTurned,
    steadied: await steadyTake(input),
    drawIn: (own) => (places && frames ? drawDissolves(own, places, frames) : own),
  });
  return {
    source: isDrawn ? await addCard(shaped, take, recipe) : shaped,
    stance: isTurned ? { turnDegrees: 0, isMirrored: false } : { turnDegrees, isMirrored },
  };
}

/** The take as it looks when it is steadied; null where that is not asked for. */
async function steadyTake({ take, takePath, recipe, signal }: ProveInput): Promise<Steadied | null> {
  const { facts, series, evidence } = take;
  const course = planTakeSteady(facts, series, recipe);
  const frames = listOwnFrames(series);
  if (!course || !frames) return null;
  if (takePath === undefined)
    throw new ApodixError('BAD_REQUEST', { detail: 'A steadied take has to be looked at again.' });
  const more = signal ? { signal } : {};
  return lookSteadied({ path: takePath, facts, evidence, recipe, course, frames, ...more });
}

/** Evidence that is shaped already, with the opening card at its place, as soft as the rest. */
async function addCard(shaped: Evidence, { facts, series, evidence }: ProvenTake, recipe: Recipe) {
  const { card, picture } = recipe;
  const sizes = chooseShapedSizes(evidence, picture);
  if (!card || !sizes || !facts.video) return shaped;
  const drawn = await drawSmallCard(card, frameSize(facts.video, picture), sizes);
  const soft = softenEvidence(
    {
      signatures: { ...sizes.signature, luma: drawn.signature, frameCount: 1 },
      colors: { ...sizes.color, rgb: drawn.color, frameIndices: Int32Array.of(0) },
      sound: null,
    },
    picture,
  );
  return drawCardIn(shaped, series.places ?? [], {
    signature: soft.signatures?.luma ?? drawn.signature,
    color: soft.colors?.rgb ?? drawn.color,
  });
}

function buildHiddenLook(take: ProvenTake, recipe: Recipe, timeline: Timeline): HiddenLook | null {
  const { hidden } = recipe.picture;
  const frames = listOwnFrames(take.series);
  const source = take.facts.video;
  if (hidden.length === 0 || !frames || !source) return null;
  const steady = planTakeSteady(take.facts, take.series, recipe);
  return new HiddenLook({ areas: hidden, source, framing: recipe.picture, frames, timeline, steady });
}

/** Times of the frames of the recipe's own take: hidden areas are of it alone. */
function listOwnFrames({ frames, places }: TakeSeries): FrameTimes | null {
  const next = places?.[1];
  return frames && next ? { timesUs: frames.timesUs.slice(0, next.firstFrame), endUs: frames.endUs } : frames;
}

/** The timeline of a file that somebody else may have made: the recipe's, at the rate that the file has. */
function buildOwnTimeline(
  take: ProvenTake,
  recipe: Recipe,
  video: MediaFacts['video'],
  sound: MediaFacts['sound'],
): Timeline | null {
  if (recipe.picture.steady !== null && take.facts.video && !take.series.shake)
    throw new ApodixError('BAD_REQUEST', { detail: 'How the camera shook was not measured.' });
  if (listJoinedSources(recipe).length > 0 && !take.series.places)
    throw new ApodixError('BAD_REQUEST', { detail: 'The other takes that it was joined from are missing.' });
  const source = describeTimelineSource(take.facts, take.series);
  const placed = { spans: placeSpans(recipe.spans, take.series.places) };
  if (!video || !take.facts.video)
    return sound
      ? buildTimeline({ recipe: placed, sources: [{ ...source, frames: null }], rate: null })
      : null;
  if (video.rateKind === 'variable' && take.facts.video.rateKind === 'variable' && placed.spans.length <= 1)
    return keepWandering(
      buildTimeline({
        recipe: placed,
        sources: [{ ...source, constantRate: video.frameRate }],
        rate: video.frameRate,
      }),
    );
  const own = take.facts.video.frameRate;
  const share = (video.frameRate.numerator * own.denominator) / (video.frameRate.denominator * own.numerator);
  const fractions = [1, 2, 3, 4, 5, 6];
  const divisor = fractions.find((each) => Math.abs(share * each - 1) <= SAME_RATE);
  const rate = divisor ? { ...own, denominator: own.denominator * divisor } : video.frameRate;
  const timeline = buildTimeline({ recipe: placed, sources: [source], rate });
  const isOneToOne = source.constantRate !== null && findDivisor(source.constantRate, rate) === 1;
  const isNear = Math.abs(timeline.frameCount - video.frameCount) <= 1;
  // Where frames are picked by time, or left out, one more or less at the end is a matter of rounding.
  if (isOneToOne || !isNear || timeline.frameCount === video.frameCount) return timeline;
  const mostUs = (video.frameCount * rate.denominator * 1e6) / rate.numerator;
  return buildTimeline({ recipe: placed, sources: [source], rate, mostUs: mostUs + 1 });
}

/** A wandering rate that was kept shows each frame of the take once, for as long as it was there. */
function keepWandering(timeline: Timeline): Timeline {
  const spans = timeline.spans.map((span) => ({
    ...span,
    outputFinishUs: span.outputStartUs + span.sourceFinishUs - span.sourceStartUs,
  }));
  return { ...timeline, spans, durationUs: spans.at(-1)?.outputFinishUs ?? 0 };
}

/** Sound is in step with the picture, wherever that begins: some containers begin with the sound. */
function countFromPicture(evidence: Evidence, { video }: MediaFacts): Evidence {
  if (!evidence.sound || !video) return evidence;
  return { ...evidence, sound: { ...evidence.sound, startUs: evidence.sound.startUs - video.startUs } };
}

/** Two sides into one: their average, or by power, which is louder by so much. Both are usual. */
const MIX_BY_POWER_LU = 10 * Math.log10(2);

function expectLoudness(
  take: ProvenTake,
  recipe: Recipe,
  timeline: Timeline,
  made: MediaFacts,
  isMadeByOthers: boolean,
): number | null {
  const { blocks } = take.series;
  if (!blocks || !take.facts.sound) return null;
  const isMixed = made.sound?.channels === 1 && take.facts.sound.channels > 1;
  const own = take.facts.sound.channels;
  const { mix, moreLu } = chooseMix(recipe.sound.sides, own, made.sound?.channels ?? own);
  const level = measureSoundLevel(blocks, listKeptRanges(timeline), mix);
  if (level.loudnessLufs === null) return null;
  const mended = measureMendedChange([take.evidence.sound], timeline, recipe.sound, level.truePeakDbtp);
  const expected = level.loudnessLufs + recipe.sound.gainDb + moreLu + mended;
  const found = made.sound?.loudnessLufs ?? expected;
  const isByPower = isMixed && isMadeByOthers && found > expected + MIX_BY_POWER_LU / 2;
  return isByPower ? expected + MIX_BY_POWER_LU : expected;
}

function holdStill(
  take: Evidence,
  made: Evidence,
  stance: Parameters<typeof holdColors>[2],
): Pick<ProofEvidence, 'frames' | 'color' | 'geometry' | 'sound'> {
  const none = { frames: null, color: null, geometry: null, sound: null };
  const source = take.colors;
  if (!source || !made.colors) return none;
  const count = Math.min(source.frameIndices.length, made.colors.frameIndices.length);
  const pairs = Array.from({ length: count }, (_, page): ColorPair => ({
    output: page,
    madeAt: page,
    source,
    sourceAt: page,
  }));
  const isSameSize =
    source.rgb.length / source.frameIndices.length ===
    made.colors.rgb.length / made.colors.frameIndices.length;
  if (!isSameSize || pairs.length === 0) return none;
  return {
    ...none,
    color: holdColors(made.colors, pairs, stance),
    geometry: holdGeometry(made.colors, pairs, stance),
  };
}

/** How wide a picture is shown, and how wide the recording is, turned as the recipe turns it. */
function compareProportions(
  take: MediaFacts,
  made: MediaFacts,
  recipe: Recipe,
): ProofEvidence['proportions'] {
  const [source, own] = [take.video ?? take.photo, made.video ?? made.photo];
  if (!source || !own) return null;
  const wanted = measureShaped(source, recipe.picture);
  return { found: own.widthPx / own.heightPx, wanted: wanted.widthPx / wanted.heightPx };
}

function countPages(take: MediaFacts, made: MediaFacts): ProofEvidence['pages'] {
  if (!made.document) return null;
  return { found: made.document.pageCount, wanted: take.document?.pageCount ?? 1 };
}
