import type { ColorAdvice } from '../color/color-settings.ts';
import type { Limit } from '../limits/limit.ts';
import { flatSize, type Flatten } from '../geometry/flatten.ts';
import { frameSize } from '../geometry/frame.ts';
import type { SizePx, TurnDegrees } from '../geometry/turn.ts';
import type { MediaFacts } from '../media/facts.ts';
import type { Ceilings } from '../limits/ceilings.ts';
import { refuseLimits } from '../limits/refuse.ts';
import { readCeilings } from '../limits/steer.ts';
import { isStillKind } from '../media/containers.ts';
import { chooseMix } from '../plan/choose-mix.ts';
import { measureKeptLevel } from '../plan/measure-kept-level.ts';
import type { TakeSeries } from '../series/take-series.ts';
import type { SoundFaults } from '../sound/find-faults.ts';
import type { SoundLevel } from '../sound/measure-level.ts';
import { createPlainRecipe, keepRange, readKeptRange, type Recipe } from '../recipe/recipe.ts';
import type { SuggestSubject } from '../media/performance-span.ts';
import { chooseSuggestion, LEAST_SUGGEST_CONFIDENCE } from '../suggest/suggest-performance.ts';
import { formatDuration } from '../units/duration.ts';
import { findTimeOfFrame, snapRangeToFrames, type FrameTimes } from '../time/frame-times.ts';
import { proposeStill } from './propose-still.ts';
import { suggestRange, type RangeSuggestion } from '../trim/suggest-range.ts';

export interface Proposal {
  readonly recipe: Recipe;
  /** Why start and finish lie where they do; null for photographs. */
  readonly range: RangeSuggestion | null;
  /** What is put right of the colors, and why; empty where nothing is. */
  readonly colorReasons: readonly string[];
  readonly remarks: readonly string[];
}

/**
 * True peak that a raised sound stays below, with room for what the coding adds (AAC moves it by up to 0.4
 * dB).
 */
const PEAK_CEILING_DBTP = -1;
const CODING_ROOM_DB = 0.7;

const NO_ADVICE = { color: null, faults: null };

/** The complete proposal for a take that has just come in: what one press on "Fit it for me" does. */
export function propose(
  facts: MediaFacts,
  series: TakeSeries,
  limits: readonly Limit[],
  subject: SuggestSubject | null = null,
  advice: { readonly color: ColorAdvice | null; readonly faults: SoundFaults | null } = NO_ADVICE,
): Proposal {
  const ceilings = readCeilings(limits, facts.kind);
  const plain = createPlainRecipe();
  const { color, faults } = advice;
  const colored = facts.kind === 'video' ? (color?.settings ?? null) : null;
  const goodSide = facts.sound ? (faults?.goodSide ?? null) : null;
  const recipe: Recipe = {
    ...plain,
    picture: { ...plain.picture, color: colored },
    sound: { ...plain.sound, sides: goodSide ?? 'as-recorded' },
  };
  if (facts.photo) {
    const { photo } = facts;
    const isRefused = (flatten: Flatten | null) => {
      const size = roundSize(flatSize(photo, flatten));
      const situation = { kind: facts.kind, facts, wholeUs: null, keptUs: null, size, level: null };
      return refuseLimits(limits, situation, null).length > 0;
    };
    const { picture, ...told } = proposeStill(photo, (flatten) => isRefused(flatten) && !isRefused(null));
    return { recipe: { ...recipe, picture: { ...recipe.picture, ...picture } }, range: null, ...told };
  }
  if (isStillKind(facts.kind) || facts.durationUs === null)
    return { recipe, range: null, colorReasons: [], remarks: [] };
  const frames: FrameTimes | null = facts.video ? series.frames : null;
  const wholeUs = frames?.endUs ?? facts.durationUs;
  const found = series.suggestions && chooseSuggestion(series.suggestions, subject);
  const isSure = found && found.confidence >= LEAST_SUGGEST_CONFIDENCE;
  const suggestion = suggestRange(wholeUs, series.peaks, ceilings, found && (isSure ? found : 'unsure'));
  const mostUs = suggestion.overUs > 0 ? null : ceilings.maxUs;
  const range = frames ? keepWithin(frames, suggestion.range, mostUs) : suggestion.range;
  const remarks: string[] = [];
  if (suggestion.overUs > 0)
    remarks.push(
      `${formatDuration(suggestion.overUs, 1)} longer than is allowed: choose where it shall end.`,
    );
  if (goodSide) remarks.push(`Only the ${goodSide} side has sound: it is heard on both.`);
  const isWhole = range.startUs <= (frames?.timesUs[0] ?? 0) && range.finishUs >= wholeUs;
  const kept = keepRange(recipe, isWhole ? null : range);
  return {
    recipe: withGain(kept, proposeGain(measureWishedLevel(facts, series, kept), ceilings)),
    range: { ...suggestion, range },
    colorReasons: colored ? (color?.reasons ?? []) : [],
    remarks,
  };
}

const roundSize = ({ widthPx, heightPx }: SizePx): SizePx => ({
  widthPx: Math.round(widthPx),
  heightPx: Math.round(heightPx),
});

/**
 * What "Fit it for me" changes of a recipe that a person has already worked on: only what the limits need and
 * a machine can do alone: a level outside the limits gets one gain. Where a performance that is too long ends
 * is for the person to say (`cutAt`). Everything else stays as the person left it.
 */
export function mendRecipe(
  recipe: Recipe,
  facts: MediaFacts,
  series: TakeSeries,
  limits: readonly Limit[],
): Recipe {
  if (isStillKind(facts.kind) || facts.durationUs === null) return recipe;
  const ceilings = readCeilings(limits, facts.kind);
  const level = measureWishedLevel(facts, series, recipe);
  return isLevelOff(level, recipe.sound.gainDb, ceilings)
    ? withGain(recipe, proposeGain(level, ceilings))
    : recipe;
}

/** Level of what is kept with the sides that are wanted. */
function measureWishedLevel(facts: MediaFacts, series: TakeSeries, recipe: Recipe): SoundLevel | null {
  const channels = Math.min(2, facts.sound?.channels ?? 1);
  const { mix, moreLu } = chooseMix(recipe.sound.sides, channels, channels);
  const level = measureKeptLevel(facts, series, recipe, mix);
  if (!level || level.loudnessLufs === null) return level;
  return { ...level, loudnessLufs: level.loudnessLufs + moreLu };
}

/**
 * The same recipe ending earlier in its last part, on a whole frame and no longer than is allowed: what a
 * person has chosen of the places that `findCutPlaces` told.
 */
export function cutAt(
  recipe: Recipe,
  facts: MediaFacts,
  series: TakeSeries,
  finishUs: number,
  maxUs: number | null,
): Recipe {
  const frames: FrameTimes | null = facts.video ? series.frames : null;
  const firstUs = frames?.timesUs[0] ?? 0;
  const keep = readKeptRange(recipe) ?? {
    startUs: firstUs,
    finishUs: frames?.endUs ?? facts.durationUs ?? 1,
  };
  const wanted = { startUs: keep.startUs, finishUs: Math.max(keep.startUs + 1, finishUs) };
  return keepRange(recipe, frames ? keepWithin(frames, wanted, maxUs) : wanted);
}

const withGain = (recipe: Recipe, gainDb: number): Recipe => ({
  ...recipe,
  sound: { ...recipe.sound, gainDb },
});

function isLevelOff(level: SoundLevel | null, gainDb: number, ceilings: Ceilings): boolean {
  const [loudness, peak] = [level?.loudnessLufs ?? null, level?.truePeakDbtp ?? null];
  const { min, max } = ceilings.loudness ?? { min: null, max: null };
  const isLoudnessOff =
    loudness !== null && (loudness + gainDb < (min ?? -Infinity) || loudness + gainDb > (max ?? Infinity));
  const highest = ceilings.maxPeakDbtp === null ? Infinity : ceilings.maxPeakDbtp - CODING_ROOM_DB;
  return isLoudnessOff || (peak !== null && peak + gainDb > highest);
}

/** Frame-exact, and never longer than allowed: a finish that snaps over the ceiling goes one frame back. */
function keepWithin(
  frames: FrameTimes,
  range: { startUs: number; finishUs: number },
  maxUs: number | null,
): { startUs: number; finishUs: number } {
  const snapped = snapRangeToFrames(frames, range);
  if (maxUs === null || snapped.finishUs - snapped.startUs <= maxUs) return snapped;
  const index = frames.timesUs.findLastIndex((timeUs) => timeUs - snapped.startUs <= maxUs);
  const finishUs = findTimeOfFrame(frames, index);
  return finishUs > snapped.startUs ? { startUs: snapped.startUs, finishUs } : snapped;
}

/**
 * One gain to the middle of the wanted loudness, no higher than the peak allows; 0 where nothing is asked.
 */
function proposeGain(level: SoundLevel | null, ceilings: Ceilings): number {
  const loudness = level?.loudnessLufs ?? null;
  const peak = level?.truePeakDbtp ?? null;
  if (loudness === null || peak === null) return 0;
  const ceilingDb = Math.min(ceilings.maxPeakDbtp ?? PEAK_CEILING_DBTP, PEAK_CEILING_DBTP) - CODING_ROOM_DB;
  const highest = ceilingDb - peak;
  let gainDb = 0;
  if (ceilings.loudness) {
    const { min, max } = ceilings.loudness;
    const isInside = loudness >= (min ?? -Infinity) && loudness <= (max ?? Infinity);
    const target =
      min !== null && max !== null ? (min + max) / 2 : min !== null ? min + 1.2 : (max ?? loudness) - 1.2;
    if (!isInside)
      gainDb = target - loudness > 0 ? Math.max(0, Math.min(target - loudness, highest)) : target - loudness;
  }
  if (ceilings.maxPeakDbtp !== null && peak + gainDb > ceilings.maxPeakDbtp - CODING_ROOM_DB)
    gainDb = ceilings.maxPeakDbtp - CODING_ROOM_DB - peak;
  return Math.round(Math.max(-40, Math.min(40, gainDb)) * 100) / 100;
}

/** Whether a further quarter turn would give the wanted orientation; for the fix that a person can press. */
export function suggestTurn(
  facts: MediaFacts,
  recipe: Recipe,
  wanted: 'landscape' | 'portrait',
): TurnDegrees | null {
  const picture = facts.video ?? facts.photo;
  if (!picture) return null;
  const { turnDegrees } = recipe.picture;
  const size = frameSize(picture, recipe.picture);
  const isHeld = wanted === 'landscape' ? size.widthPx > size.heightPx : size.heightPx > size.widthPx;
  return isHeld ? null : (((turnDegrees + 90) % 360) as TurnDegrees);
}
