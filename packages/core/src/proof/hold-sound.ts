import { COURSE_RATE_HZ, LEVEL_COLUMN_US, type SoundEvidence } from '../series/evidence.ts';
import { findSoundOffset } from '../sound/find-sound-offset.ts';
import { readFade } from './mend-sound.ts';
import type { Timeline } from '../timeline/timeline.ts';

/** How the sides of the source come out in the made file. */
export interface SoundWish {
  readonly gainDb: number;
  readonly channels: number;
  /** How long it comes up at the start and dies away at the end. */
  readonly fadeInUs?: number;
  readonly fadeOutUs?: number;
}

/** How the sound of one place of the made file lies against the recording. */
export interface SoundPlace {
  /** Where in the made file. */
  readonly atUs: number;
  /** How much later it comes; null where that cannot be told. */
  readonly offsetUs: number | null;
  readonly correlation: number | null;
  readonly state: 'same' | 'unlike' | 'silent';
}

/** What came of holding the sound of a made file against the recording along its whole length. */
export interface SoundMatch {
  /** Hundredths of a second that were compared, and those of them in which the recording can be heard. */
  readonly columns: number;
  readonly audible: number;
  /** Longest stretch that is clearly louder or quieter than it should be, and where it starts. */
  readonly longestOffUs: number;
  readonly offAtUs: number | null;
  /** Share of the audible stretches that are off. */
  readonly offShare: number;
  /** Mean difference of level in dB, left and right; null where a side is silent in the recording. */
  readonly leftDb: number | null;
  readonly rightDb: number | null;
  readonly places: readonly SoundPlace[];
}

export interface SoundMatchInput {
  readonly sources: readonly (SoundEvidence | null)[];
  readonly made: SoundEvidence;
  readonly timeline: Timeline;
  readonly wish: SoundWish;
}

const STEPS_PER_DB = 2;
/** Quieter than this is silence in the recording; the made file may have what it likes below it. */
const SILENCE_DB = -58;
/** Quieter than the loudest tenth by so much a place is not held to a figure: coding smears into pauses. */
const HELD_RANGE_DB = 34;
/** Levels over this many columns are compared: coding moves energy about within that. */
const SMOOTH_COLUMNS = 5;
const MOST_LEVEL_CHANGE_DB = 5;
/** Windows for the course: two seconds, or what there is, and what may lie between made and source. */
const WINDOW_US = 2_000_000;
const LEAST_WINDOW_US = 150_000;
const MOST_OFFSET_US = 150_000;
const PLACES = 7;

/** Holds the sound level everywhere, and its course at several places and around every join. */
export function holdSound(input: SoundMatchInput): SoundMatch {
  const { made, timeline, wish } = input;
  const columns = Math.floor(timeline.durationUs / LEVEL_COLUMN_US);
  const expected = expectLevels(input, columns);
  const found = readLevels(made, columns);
  const both = compareLevels(expected.both, found.both);
  const isMono = wish.channels === 1;
  return {
    columns,
    ...both,
    leftDb: isMono ? null : compareSide(expected.left, found.left),
    rightDb: isMono ? null : compareSide(expected.right, found.right),
    places: choosePlaces(timeline, expected.both).map((place) => holdCourse(input, place)),
  };
}

interface Levels {
  readonly left: Float32Array;
  readonly right: Float32Array;
  /** Mean power of both sides. */
  readonly both: Float32Array;
}

const SILENT = -120;
const toDb = (step: number) => (step >= 255 ? SILENT : -step / STEPS_PER_DB);
const addPower = (left: number, right: number) =>
  10 * Math.log10((10 ** (left / 10) + 10 ** (right / 10)) / 2 + 1e-12);

function readLevels(evidence: SoundEvidence, columns: number): Levels {
  const shift = Math.round(evidence.startUs / LEVEL_COLUMN_US);
  const read = (levels: Uint8Array) =>
    Float32Array.from({ length: columns }, (_, column) => toDb(levels[column - shift] ?? 255));
  const left = read(evidence.levelLeft);
  const right = evidence.sides === 1 ? left : read(evidence.levelRight);
  return { left, right, both: left.map((level, column) => addPower(level, right[column] ?? SILENT)) };
}

function expectLevels({ sources, timeline, wish }: SoundMatchInput, columns: number): Levels {
  const left = new Float32Array(columns).fill(SILENT);
  const right = new Float32Array(columns).fill(SILENT);
  const fades = { fadeInUs: wish.fadeInUs ?? 0, fadeOutUs: wish.fadeOutUs ?? 0 };
  for (const span of timeline.spans) {
    const source = sources[span.source];
    if (!source) continue;
    const from = Math.ceil(span.outputStartUs / LEVEL_COLUMN_US);
    const to = Math.min(columns, Math.floor(span.outputFinishUs / LEVEL_COLUMN_US));
    for (let column = from; column < to; column += 1) {
      const timeUs = span.sourceStartUs + column * LEVEL_COLUMN_US - span.outputStartUs - source.startUs;
      const at = Math.round(timeUs / LEVEL_COLUMN_US);
      const fade = readFade(fades, (column + 0.5) * LEVEL_COLUMN_US, timeline.durationUs);
      const gainDb = wish.gainDb + 20 * Math.log10(Math.max(fade, 1e-4));
      left[column] = toDb(source.levelLeft[at] ?? 255) + gainDb;
      right[column] = toDb((source.sides === 1 ? source.levelLeft : source.levelRight)[at] ?? 255) + gainDb;
    }
  }
  return { left, right, both: left.map((level, column) => addPower(level, right[column] ?? SILENT)) };
}

/** Power over some columns, in dB. */
function smooth(levels: Float32Array): Float32Array {
  const half = SMOOTH_COLUMNS >> 1;
  return levels.map((_, column) => {
    let [sum, count] = [0, 0];
    for (let at = Math.max(0, column - half); at <= Math.min(levels.length - 1, column + half); at += 1) {
      sum += 10 ** ((levels[at] ?? SILENT) / 10);
      count += 1;
    }
    return 10 * Math.log10(sum / Math.max(1, count) + 1e-12);
  });
}

/** The level that a tenth of the columns exceeds. */
function findLoud(levels: Float32Array): number {
  const sorted = Float32Array.from(levels).sort();
  return sorted[Math.floor(sorted.length * 0.9)] ?? SILENT;
}

function compareLevels(
  rawExpected: Float32Array,
  rawFound: Float32Array,
): Pick<SoundMatch, 'audible' | 'longestOffUs' | 'offAtUs' | 'offShare'> {
  const expected = smooth(rawExpected);
  const found = smooth(rawFound);
  const least = Math.max(SILENCE_DB, findLoud(expected) - HELD_RANGE_DB);
  // Where all is one step louder or quieter, that is told by loudness, not here.
  const gain = findGain(expected, found, least);
  let [audible, off, run, longest, longestAt] = [0, 0, 0, 0, 0];
  for (let column = 0; column < expected.length; column += 1) {
    const wanted = expected[column] ?? SILENT;
    const change = (found[column] ?? SILENT) - gain - wanted;
    const isAudible = wanted >= least;
    const isOff = isAudible
      ? Math.abs(change) > MOST_LEVEL_CHANGE_DB
      : change > 0 && (found[column] ?? SILENT) > least + 12;
    if (isAudible) audible += 1;
    if (isOff) off += 1;
    run = isOff ? run + 1 : 0;
    if (run > longest) [longest, longestAt] = [run, column - run + 1];
  }
  return {
    audible,
    longestOffUs: longest * LEVEL_COLUMN_US,
    offAtUs: longest > 0 ? longestAt * LEVEL_COLUMN_US : null,
    offShare: expected.length > 0 ? off / Math.max(1, expected.length) : 0,
  };
}

/** Median difference where the recording is heard. */
function findGain(expected: Float32Array, found: Float32Array, least: number): number {
  const changes: number[] = [];
  expected.forEach((wanted, column) => {
    if (wanted >= least) changes.push((found[column] ?? SILENT) - wanted);
  });
  if (changes.length === 0) return 0;
  const sorted = changes.sort((left, right) => left - right);
  return Math.max(-MOST_LEVEL_CHANGE_DB, Math.min(MOST_LEVEL_CHANGE_DB, sorted[sorted.length >> 1] ?? 0));
}

/** Mean change of one side where the recording has it; null where that is silent. */
function compareSide(rawExpected: Float32Array, rawFound: Float32Array): number | null {
  const least = Math.max(SILENCE_DB, findLoud(rawExpected) - HELD_RANGE_DB);
  let [wanted, there, count] = [0, 0, 0];
  rawExpected.forEach((level, column) => {
    if (level < least) return;
    wanted += 10 ** (level / 10);
    there += 10 ** ((rawFound[column] ?? SILENT) / 10);
    count += 1;
  });
  return count === 0 ? null : 10 * Math.log10((there + 1e-12) / (wanted + 1e-12));
}

/** Stretches to hold to the sample: the loudest of each of several parts, and both sides of every join. */
function choosePlaces(timeline: Timeline, levels: Float32Array): { startUs: number; finishUs: number }[] {
  const places: { startUs: number; finishUs: number }[] = [];
  for (const [index, span] of timeline.spans.entries()) {
    const lengthUs = span.outputFinishUs - span.outputStartUs;
    const windowUs = Math.min(WINDOW_US, lengthUs);
    if (windowUs < LEAST_WINDOW_US) continue;
    const wanted = Math.max(1, Math.min(PLACES, Math.floor(lengthUs / windowUs)));
    for (let part = 0; part < wanted; part += 1) {
      const fromUs = span.outputStartUs + (lengthUs * part) / wanted;
      const toUs = span.outputStartUs + (lengthUs * (part + 1)) / wanted;
      const startUs = findLoudestStart(levels, fromUs, toUs, Math.min(windowUs, toUs - fromUs));
      places.push({ startUs, finishUs: startUs + Math.min(windowUs, toUs - fromUs) });
    }
    if (index > 0) places.push({ startUs: span.outputStartUs, finishUs: span.outputStartUs + windowUs / 2 });
    if (index < timeline.spans.length - 1)
      places.push({ startUs: span.outputFinishUs - windowUs / 2, finishUs: span.outputFinishUs });
  }
  return places;
}

function findLoudestStart(levels: Float32Array, fromUs: number, toUs: number, windowUs: number): number {
  const [from, to] = [Math.floor(fromUs / LEVEL_COLUMN_US), Math.floor((toUs - windowUs) / LEVEL_COLUMN_US)];
  const size = Math.max(1, Math.floor(windowUs / LEVEL_COLUMN_US));
  let [best, highest] = [from, -Infinity];
  for (let column = from; column <= to; column += 10) {
    let power = 0;
    for (let at = column; at < column + size; at += 1) power += 10 ** ((levels[at] ?? SILENT) / 10);
    if (power > highest) [best, highest] = [column, power];
  }
  // Columns begin on hundredths of a second, stretches where they do.
  return Math.max(fromUs, best * LEVEL_COLUMN_US);
}

function holdCourse(input: SoundMatchInput, place: { startUs: number; finishUs: number }): SoundPlace {
  const { made, timeline, sources } = input;
  const span =
    timeline.spans.find(
      (each) => place.startUs >= each.outputStartUs && place.startUs < each.outputFinishUs,
    ) ?? timeline.spans[0];
  const source = span ? sources[span.source] : null;
  if (!span || !source) return { atUs: place.startUs, offsetUs: null, correlation: null, state: 'silent' };
  const toSample = (timeUs: number, startUs: number) =>
    Math.round(((timeUs - startUs) * COURSE_RATE_HZ) / 1e6);
  const sourceUs = span.sourceStartUs + place.startUs - span.outputStartUs;
  const count = Math.floor(((place.finishUs - place.startUs) * COURSE_RATE_HZ) / 1e6);
  const found = findSoundOffset({
    source: source.course,
    sourceFrom: toSample(sourceUs, source.startUs),
    made: made.course,
    madeFrom: toSample(place.startUs, made.startUs),
    count,
    rateHz: COURSE_RATE_HZ,
    maxUs: MOST_OFFSET_US,
  });
  return {
    atUs: place.startUs,
    offsetUs: found.state === 'same' && !found.isAmbiguous ? found.offsetUs : null,
    correlation: found.state === 'silent' ? null : found.correlation,
    state: found.state,
  };
}
