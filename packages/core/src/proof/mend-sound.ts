import { isPlainSound, LIMITED_DBTP, type Recipe } from '../recipe/recipe.ts';
import { COURSE_RATE_HZ, LEVEL_COLUMN_US, type SoundEvidence } from '../series/evidence.ts';
import { SOUND_BLOCK_US } from '../series/sound-blocks.ts';
import { designKWeighting } from '../sound/k-weighting.ts';
import { measureSoundLevel } from '../sound/measure-level.ts';
import { designMending, filterSound, isMended } from '../sound/mend-course.ts';
import type { Timeline } from '../timeline/timeline.ts';

type SoundWish = Recipe['sound'];

const COLUMN = (COURSE_RATE_HZ * LEVEL_COLUMN_US) / 1e6;
const STEPS_PER_DB = 2;
const FULL_SCALE = 32_768;
/** So far above the noise sound is told from it. */
const NOISE_REACH_DB = 8;
/** A limiter lets go within so long. */
const RELEASE_S = 0.12;

/**
 * What a recording's sound evidence would be, had it been recorded as the recipe mends it: filtered, from the
 * side that is wanted, and later. Its gain and fades are no part of it.
 */
export function mendSoundEvidence(evidence: SoundEvidence, wish: SoundWish): SoundEvidence {
  if (isPlainSound(wish)) return evidence;
  const own = isMended(wish) ? filterEvidence(evidence, wish) : evidence;
  const calm = wish.noise ? lowerNoise(own, wish.noise) : own;
  return { ...chooseSides(calm, wish.sides), startUs: own.startUs + wish.laterUs };
}

/**
 * Levels about the noise floor come out lower: from half of what is asked for at a little above it to nearly
 * all below it. What is louder stays, and so does the course.
 */
function lowerNoise(
  evidence: SoundEvidence,
  { lowerDb, floorDb }: NonNullable<SoundWish['noise']>,
): SoundEvidence {
  const lower = (levels: Uint8Array) =>
    levels.map((step) => {
      const over = -step / STEPS_PER_DB - floorDb;
      const share = Math.max(0, Math.min(0.75, (NOISE_REACH_DB - over) / NOISE_REACH_DB));
      return step === 255 ? 255 : Math.min(254, Math.round(step + share * lowerDb * STEPS_PER_DB));
    });
  return { ...evidence, levelLeft: lower(evidence.levelLeft), levelRight: lower(evidence.levelRight) };
}

function filterEvidence(evidence: SoundEvidence, wish: SoundWish): SoundEvidence {
  const course = Int16Array.from(filterSound(evidence.course, designMending(wish, COURSE_RATE_HZ)), (value) =>
    Math.max(-FULL_SCALE, Math.min(FULL_SCALE - 1, Math.round(value))),
  );
  const [before, after] = [readLevels(evidence.course), readLevels(course)];
  const lower = (levels: Uint8Array) =>
    levels.map((step, column) => {
      const change = Math.min(0, (after[column] ?? 0) - (before[column] ?? 0));
      return step === 255 ? 255 : Math.min(254, Math.round(step - change * STEPS_PER_DB));
    });
  return {
    ...evidence,
    course,
    levelLeft: lower(evidence.levelLeft),
    levelRight: lower(evidence.levelRight),
  };
}

/** Level of each hundredth of a second, in dB below full scale. */
function readLevels(course: Int16Array): Float32Array {
  return Float32Array.from({ length: Math.ceil(course.length / COLUMN) }, (_, column) => {
    let sum = 0;
    for (let at = column * COLUMN; at < (column + 1) * COLUMN; at += 1)
      sum += ((course[at] ?? 0) / FULL_SCALE) ** 2;
    return 10 * Math.log10(sum / COLUMN + 1e-12);
  });
}

function chooseSides(evidence: SoundEvidence, sides: SoundWish['sides']): SoundEvidence {
  if (evidence.sides === 1 || sides === 'as-recorded') return evidence;
  if (sides === 'left') return { ...evidence, levelRight: evidence.levelLeft };
  if (sides === 'right') return { ...evidence, levelLeft: evidence.levelRight };
  const mixed = Uint8Array.from(readLevels(evidence.course), (level) =>
    level <= -110 ? 255 : Math.min(254, Math.max(0, Math.round(-level * STEPS_PER_DB))),
  );
  return { ...evidence, levelLeft: mixed, levelRight: mixed };
}

/** Gain of the fades at a moment of the result, 0 to 1; straight in amplitude. */
export function readFade(
  wish: Pick<SoundWish, 'fadeInUs' | 'fadeOutUs'>,
  atUs: number,
  lengthUs: number,
): number {
  const up = wish.fadeInUs > 0 ? Math.min(1, atUs / wish.fadeInUs) : 1;
  const down = wish.fadeOutUs > 0 ? Math.min(1, (lengthUs - atUs) / wish.fadeOutUs) : 1;
  return Math.max(0, up) * Math.max(0, down);
}

/**
 * How much louder or quieter, in LU, mending, a limiter and fades make what is kept: the course of the
 * recording brought through the same, gated as BS.1770-4 does. The gain itself is not counted, what the
 * limiter takes of it is, by the recording's true peak. 0 where nothing of the kind is asked for,
 * or nothing can be heard.
 */
export function measureMendedChange(
  sources: readonly (SoundEvidence | null)[],
  timeline: Timeline,
  wish: SoundWish,
  truePeakDbtp: number | null,
): number {
  const isChanged = isMended(wish) || wish.isLimited || wish.fadeInUs > 0 || wish.fadeOutUs > 0;
  if (!isChanged) return 0;
  const plain = joinCourse(sources, timeline);
  const gain = 10 ** (wish.gainDb / 20);
  const raised = filterSound(plain, designMending(wish, COURSE_RATE_HZ)).map((value) => value * gain);
  if (wish.isLimited && truePeakDbtp !== null) {
    // The course has both sides mixed and no high tones: its own peak stands for that of all of it.
    const over =
      plain.reduce((most, value) => Math.max(most, Math.abs(value)), 0) / 10 ** (truePeakDbtp / 20);
    limit(raised, 10 ** (LIMITED_DBTP / 20) * over);
  }
  const lengthUs = timeline.durationUs;
  for (let at = 0; at < raised.length; at += 1)
    raised[at] = (raised[at] ?? 0) * readFade(wish, (at * 1e6) / COURSE_RATE_HZ, lengthUs);
  const [before, after] = [measureCourse(plain), measureCourse(raised)];
  return before === null || after === null ? 0 : after - before - wish.gainDb;
}

/** The course of everything that is kept, in its order, −1 to 1. */
function joinCourse(sources: readonly (SoundEvidence | null)[], timeline: Timeline): Float32Array {
  const toSample = (us: number) => Math.round((us * COURSE_RATE_HZ) / 1e6);
  const joined = new Float32Array(toSample(timeline.durationUs));
  for (const span of timeline.spans) {
    const source = sources[span.source];
    if (!source) continue;
    const from = toSample(span.sourceStartUs - source.startUs) - toSample(span.outputStartUs);
    for (let at = toSample(span.outputStartUs); at < toSample(span.outputFinishUs); at += 1)
      joined[at] = (source.course[at + from] ?? 0) / FULL_SCALE;
  }
  return joined;
}

function limit(samples: Float32Array, ceiling: number): void {
  const release = Math.exp(-1 / (RELEASE_S * COURSE_RATE_HZ));
  let envelope = 0;
  for (let at = 0; at < samples.length; at += 1) {
    const value = Math.abs(samples[at] ?? 0);
    envelope = Math.max(value, envelope * release);
    if (envelope > ceiling) samples[at] = ((samples[at] ?? 0) * ceiling) / envelope;
  }
}

/** Integrated loudness of a course (ITU-R BS.1770-4); null where there is silence. */
export function measureCourse(samples: Float32Array): number | null {
  const weighted = filterSound(samples, designKWeighting(COURSE_RATE_HZ));
  const size = (COURSE_RATE_HZ * SOUND_BLOCK_US) / 1e6;
  const powerLeft = Float32Array.from({ length: Math.floor(samples.length / size) }, (_, block) => {
    let sum = 0;
    for (let at = block * size; at < (block + 1) * size; at += 1) sum += (weighted[at] ?? 0) ** 2;
    return sum / size;
  });
  const none = new Float32Array(powerLeft.length);
  return measureSoundLevel(
    {
      blockUs: SOUND_BLOCK_US,
      startUs: 0,
      sides: 1,
      powerLeft,
      powerRight: powerLeft,
      powerMix: powerLeft,
      peak: none,
      clipped: new Uint16Array(powerLeft.length),
    },
    null,
  ).loudnessLufs;
}
