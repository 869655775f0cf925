import { readCrossfade } from '../plan/draw-parts.ts';
import {
  COURSE_RATE_HZ,
  LEVEL_COLUMN_US,
  type ColorSignatures,
  type Evidence,
  type FrameSignatures,
  type SoundEvidence,
} from '../series/evidence.ts';
import type { DrawnPart, TakePlace } from '../series/take-series.ts';
import { findFrameAt, type FrameTimes } from '../time/frame-times.ts';

type Dissolve = Extract<DrawnPart, { kind: 'dissolve' }>;

interface DissolvePlace {
  readonly place: TakePlace;
  readonly drawn: Dissolve;
}

const listDissolves = (places: readonly TakePlace[]): DissolvePlace[] =>
  places.flatMap((place) => (place.drawn?.kind === 'dissolve' ? [{ place, drawn: place.drawn }] : []));

/** Two frames that are seen over one another, and how much of the second. */
export interface MixedFrame {
  readonly from: number;
  readonly to: number;
  readonly share: number;
}

/**
 * The frames of the takes that each frame of a dissolve is mixed from: those on screen in its middle. It
 * begins with the first part alone.
 */
export function listMixedFrames(place: TakePlace, frames: FrameTimes): MixedFrame[] {
  const { drawn } = place;
  if (drawn?.kind !== 'dissolve') return [];
  const frameUs = (place.endUs - place.startUs) / Math.max(1, drawn.frameCount);
  const at = (us: number) => findFrameAt(frames, Math.ceil(us) - 1);
  return Array.from({ length: drawn.frameCount }, (_, index) => ({
    from: at(drawn.from.startUs + (index + 0.5) * frameUs),
    to: at(drawn.to.startUs + (index + 0.5) * frameUs),
    share: index / drawn.frameCount,
  }));
}

/** Pictures of several takes with their dissolves in them. */
export function drawDissolves(
  signatures: FrameSignatures,
  places: readonly TakePlace[],
  frames: FrameTimes,
): FrameSignatures {
  const dissolves = listDissolves(places);
  if (dissolves.length === 0) return signatures;
  const luma = signatures.luma.slice();
  const points = signatures.widthPx * signatures.heightPx;
  for (const { place } of dissolves)
    for (const [index, { from, to, share }] of listMixedFrames(place, frames).entries())
      for (let point = 0; point < points; point += 1)
        luma[(place.firstFrame + index) * points + point] = Math.round(
          (1 - share) * (luma[from * points + point] ?? 0) + share * (luma[to * points + point] ?? 0),
        );
  return { ...signatures, luma };
}

/** A small picture of an opening card: R, G, B row after row, as large as pictures in color of a file. */
export interface CardPicture {
  readonly signature: Uint8Array;
  readonly color: Uint8Array;
}

/**
 * Evidence with the opening card in it, at all frames that it is shown: `card` is as large as the pictures
 * are by now, brightness for signatures, R, G, B for colors.
 */
export function drawCardIn(evidence: Evidence, places: readonly TakePlace[], card: CardPicture): Evidence {
  const place = places.find((each) => each.drawn?.kind === 'card');
  if (!place) return evidence;
  const count = place.drawn?.frameCount ?? 0;
  const { signatures, colors } = evidence;
  const luma = signatures?.luma.slice();
  if (luma)
    for (let index = 0; index < count; index += 1)
      luma.set(card.signature, (place.firstFrame + index) * card.signature.length);
  return {
    ...evidence,
    signatures: signatures && luma ? { ...signatures, luma } : null,
    colors: colors && addColor(colors, place.firstFrame + (count >> 1), card.color),
  };
}

function addColor(colors: ColorSignatures, frame: number, picture: Uint8Array): ColorSignatures {
  const rgb = new Uint8Array(colors.rgb.length + picture.length);
  rgb.set(colors.rgb);
  rgb.set(picture, colors.rgb.length);
  return { ...colors, rgb, frameIndices: Int32Array.from([...colors.frameIndices, frame]) };
}

const SILENT_STEP = 255;
const STEPS_PER_DB = 2;

/** Sound of several takes with that of their dissolves in it, where nothing was before. */
export function mixDissolvedSound(sound: SoundEvidence, places: readonly TakePlace[]): SoundEvidence {
  const dissolves = listDissolves(places);
  if (dissolves.length === 0) return sound;
  const [levelLeft, levelRight] = [sound.levelLeft.slice(), sound.levelRight.slice()];
  const course = sound.course.slice();
  for (const { place, drawn } of dissolves) {
    const lengthUs = place.endUs - place.startUs;
    const mix = (stepUs: number, put: (to: number, a: number, b: number, gains: Gains) => void) => {
      const at = (us: number) => Math.round((us - sound.startUs) / stepUs);
      const [to, a, b] = [at(place.startUs), at(drawn.from.startUs), at(drawn.to.startUs)];
      const count = Math.floor(lengthUs / stepUs);
      for (let index = 0; index < count; index += 1)
        put(to + index, a + index, b + index, readCrossfade((index + 0.5) / count));
    };
    mix(LEVEL_COLUMN_US, (to, a, b, gains) => {
      for (const levels of [levelLeft, levelRight])
        if (to < levels.length) levels[to] = addLevels(levels[a], levels[b], gains);
    });
    mix(1e6 / COURSE_RATE_HZ, (to, a, b, gains) => {
      if (to < course.length)
        course[to] = Math.round(gains.from * (course[a] ?? 0) + gains.to * (course[b] ?? 0));
    });
  }
  return { ...sound, levelLeft, levelRight, course };
}

type Gains = ReturnType<typeof readCrossfade>;

function addLevels(from: number | undefined, to: number | undefined, gains: Gains): number {
  const power = (step: number | undefined) =>
    step === undefined || step >= SILENT_STEP ? 0 : 10 ** (-step / STEPS_PER_DB / 10);
  const sum = gains.from ** 2 * power(from) + gains.to ** 2 * power(to);
  return sum <= 0
    ? SILENT_STEP
    : Math.max(0, Math.min(SILENT_STEP - 1, Math.round(-10 * Math.log10(sum) * STEPS_PER_DB)));
}
