import { measureLikeness } from '../picture/likeness.ts';
import { measureLight } from '../picture/measure-light.ts';
import { convertRgbToLuma, type RgbPicture } from '../picture/rgb-picture.ts';
import { COURSE_RATE_HZ, LEVEL_COLUMN_US, type Evidence, type SoundEvidence } from '../series/evidence.ts';
import { findHum } from '../sound/sound-reader.ts';
import type { FrameTimes } from '../time/frame-times.ts';
import type { Conditions } from '../media/conditions.ts';

const FULL_SCALE = 32_768;
/** Half decibels below full scale. */
const STEPS_PER_DB = 2;
const SILENT_DB = -62;
const LOOKS = 24;
const HUM_S = 0.5;
const HUM_BLOCKS = 12;
/** What is this much above the quietest tenth is something. */
const ABOVE_ROOM_DB = 9;
/** Mean difference of neighbouring small pictures that is more than noise, 0 to 255. */
const MOVING = 1.2;
/** Of the columns of a quarter of a second so many have to hold something. */
const COLUMNS = 25;
const LEAST_FULL = 8;

/**
 * What the evidence of a take tells of the conditions that it was made under; `blur` is measured elsewhere.
 */
export function measureConditions(
  evidence: Evidence,
  blur: number | null,
  frames: FrameTimes | null,
  durationUs: number | null,
): Conditions {
  const light = measureMeanLight(evidence);
  const ends = durationUs === null ? null : measureEmptyEnds(evidence, frames, durationUs);
  return {
    brightness: light?.brightness ?? null,
    warmth: light?.warmth ?? null,
    blur,
    sidesApartDb: evidence.sound ? measureSidesApart(evidence.sound) : null,
    humHz: evidence.sound ? findHumOfTake(evidence.sound) : null,
    emptyHeadUs: ends?.headUs ?? 0,
    emptyTailUs: ends?.tailUs ?? 0,
  };
}

/** How the middle of a take looks (`measureLikeness`); null for sound. */
export function measureTakeLikeness({ colors }: Evidence): string | null {
  if (!colors || colors.frameIndices.length === 0) return null;
  return measureLikeness(convertRgbToLuma(pickColor(colors, Math.floor(colors.frameIndices.length / 2))));
}

function pickColor(colors: NonNullable<Evidence['colors']>, index: number): RgbPicture {
  const { widthPx, heightPx } = colors;
  const size = widthPx * heightPx * 3;
  return { widthPx, heightPx, bands: 3, bytes: colors.rgb.subarray(index * size, (index + 1) * size) };
}

function measureMeanLight({ colors }: Evidence): { brightness: number; warmth: number } | null {
  const count = colors?.frameIndices.length ?? 0;
  if (!colors || count === 0) return null;
  const step = Math.max(1, Math.floor(count / LOOKS));
  let [brightness, warmth, looks] = [0, 0, 0];
  for (let index = 0; index < count; index += step) {
    const figures = measureLight(pickColor(colors, index));
    brightness += figures.mean;
    warmth += figures.warmth;
    looks += 1;
  }
  return { brightness: brightness / looks, warmth: warmth / looks };
}

const toPower = (step: number) => 10 ** (-step / STEPS_PER_DB / 10);
const toDb = (power: number) => 10 * Math.log10(power + 1e-13);
const sumPower = (levels: Uint8Array) => levels.reduce((sum, step) => sum + toPower(step), 0);

function measureSidesApart({ sides, levelLeft, levelRight }: SoundEvidence): number | null {
  if (sides === 1 || levelLeft.length === 0) return null;
  const [left, right] = [
    toDb(sumPower(levelLeft) / levelLeft.length),
    toDb(sumPower(levelRight) / levelRight.length),
  ];
  return Math.max(left, right) < SILENT_DB ? null : Math.abs(left - right);
}

/** The mains tone that most of the quietest stretches agree on. */
function findHumOfTake({ course }: SoundEvidence): 50 | 60 | null {
  const length = Math.round(COURSE_RATE_HZ * HUM_S);
  const blocks: { samples: number[]; power: number }[] = [];
  for (let at = 0; at + length <= course.length; at += length) {
    const samples = Array.from(course.subarray(at, at + length), (sample) => sample / FULL_SCALE);
    const power = samples.reduce((sum, sample) => sum + sample * sample, 0) / length;
    if (toDb(power) > SILENT_DB - 10) blocks.push({ samples, power });
  }
  const quiet = blocks.sort((left, right) => left.power - right.power).slice(0, HUM_BLOCKS);
  const found = quiet.map(({ samples }) => findHum(samples, COURSE_RATE_HZ));
  for (const mains of [50, 60] as const)
    if (quiet.length >= 2 && found.filter((each) => each === mains).length > quiet.length * 0.6) return mains;
  return null;
}

/** How long nothing is heard and nothing moves at the start and at the end. */
function measureEmptyEnds(
  { sound, signatures }: Evidence,
  frames: FrameTimes | null,
  durationUs: number,
): { headUs: number; tailUs: number } {
  const happens = [
    ...(sound ? [findHeard(sound)] : []),
    ...(signatures && frames ? [findMoved(signatures, frames)] : []),
  ];
  if (happens.length === 0 || happens.every((each) => each === null)) return { headUs: 0, tailUs: 0 };
  const known = happens.filter((each) => each !== null);
  return {
    headUs: Math.max(0, Math.round(Math.min(...known.map((each) => each.firstUs)))),
    tailUs: Math.max(0, Math.round(durationUs - Math.max(...known.map((each) => each.lastUs)))),
  };
}

interface Happening {
  readonly firstUs: number;
  readonly lastUs: number;
}

function findHeard({ levelLeft, levelRight, startUs }: SoundEvidence): Happening | null {
  const levels = levelLeft.map((left, index) => Math.min(left, levelRight[index] ?? left));
  if (levels.length === 0) return null;
  const sorted = Uint8Array.from(levels).sort();
  const roomDb = -(sorted[Math.floor(sorted.length * 0.9)] ?? 0) / STEPS_PER_DB;
  const threshold = Math.max(SILENT_DB, roomDb + ABOVE_ROOM_DB);
  const isFull = (index: number) => {
    let full = 0;
    for (let at = index; at < index + COLUMNS && at < levels.length; at += 1)
      if (-(levels[at] ?? 255) / STEPS_PER_DB > threshold) full += 1;
    return full >= LEAST_FULL;
  };
  let [first, last] = [-1, -1];
  for (let index = 0; index < levels.length; index += 5)
    if (isFull(index)) {
      if (first < 0) first = index;
      last = index + COLUMNS;
    }
  if (first < 0) return null;
  return { firstUs: startUs + first * LEVEL_COLUMN_US, lastUs: startUs + last * LEVEL_COLUMN_US };
}

function findMoved(
  { luma, widthPx, heightPx, frameCount }: NonNullable<Evidence['signatures']>,
  frames: FrameTimes,
): Happening | null {
  const size = widthPx * heightPx;
  // Compared a few frames apart: from one to the next slow movement is less than noise.
  const apart = Math.max(1, Math.min(8, Math.floor(frameCount / 8)));
  let [first, last] = [-1, -1];
  for (let index = apart; index < frameCount; index += 1) {
    let sum = 0;
    for (let point = 0; point < size; point += 1)
      sum += Math.abs((luma[index * size + point] ?? 0) - (luma[(index - apart) * size + point] ?? 0));
    if (sum / size < MOVING) continue;
    if (first < 0) first = index - apart;
    last = index;
  }
  const timeOf = (index: number) => frames.timesUs[index] ?? frames.endUs;
  return first < 0 ? null : { firstUs: timeOf(first), lastUs: timeOf(last) };
}
