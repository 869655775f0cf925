import { formatDuration } from '../units/duration.ts';
import { unknown, when, type ProofEvidence, type Row } from './proof-evidence.ts';

/** Sound that is this far from its picture is seen (ITU-R BT.1359-1: 45 ms early; here a third of that). */
const MOST_OFFSET_US = 15_000;
/**
 * Coding takes the highest tones away: of noise-like sound up to 1 LU. A wrong gain or a lost side is 3 LU
 * and more.
 */
const MOST_LOUDNESS_CHANGE_LU = 1.5;
/** One side may lose so much against the other; a lost side loses all of it. */
const MOST_SIDE_CHANGE_DB = 4.5;
/** A stretch of sound that is off for longer than this is missing or foreign, not smeared by coding. */
const MOST_OFF_US = 120_000;

/** Whether the sound is that of the recording, along its whole length. */
export function judgeSound({ sound, isSoundWanted, facts }: ProofEvidence): Row | null {
  const label = 'The same sound';
  if (!isSoundWanted)
    return facts.sound && (facts.video || facts.kind === 'sound')
      ? {
          state: 'short',
          label,
          figure: 'with sound',
          wanted: 'no sound',
          method: 'streams of the file',
          sentence: 'Sound came along that was not to be there.',
        }
      : null;
  if (!facts.sound)
    return {
      state: 'short',
      label,
      figure: 'none',
      wanted: 'as recorded',
      method: 'streams of the file',
      sentence: 'The sound is missing.',
    };
  if (!sound) return unknown(label, 'as recorded', 'There is nothing to hold the sound against.');
  const method = 'level of every hundredth of a second on both sides, and the course at several places';
  const unlike = sound.places.find((place) => place.state === 'unlike');
  const sides = [sound.leftDb, sound.rightDb].filter((change) => change !== null);
  const balance = sides.length === 2 ? Math.abs((sides[0] ?? 0) - (sides[1] ?? 0)) : 0;
  const isBalanced = balance <= MOST_SIDE_CHANGE_DB;
  const isMet = !unlike && sound.longestOffUs <= MOST_OFF_US && sound.offShare <= 0.04 && isBalanced;
  return {
    state: when(isMet),
    label,
    figure: sound.audible === 0 ? 'silence' : `${((1 - sound.offShare) * 100).toFixed(1)} % alike`,
    value: sound.offShare,
    unit: 'share',
    wanted: 'as recorded, along its whole length',
    method,
    sentence: isMet
      ? sound.audible === 0
        ? 'It is silent, as the recording is.'
        : 'The sound is that of the recording from start to end.'
      : unlike
        ? `At ${formatDuration(unlike.atUs, 1)} it is another sound than was recorded.`
        : !isBalanced
          ? 'One side is much quieter than it was recorded.'
          : `From ${formatDuration(sound.offAtUs ?? 0, 2)} on the sound is missing or foreign.`,
  };
}

/** Whether it is in step with the picture, or starts in its place. */
export function judgeStep({ sound, isSoundWanted, facts }: ProofEvidence): Row | null {
  if (!sound || !isSoundWanted || !facts.sound) return null;
  const told = sound.places.filter((place) => place.offsetUs !== null);
  const label = facts.video ? 'Sound in step' : 'Starts in its place';
  const wanted = `within ${MOST_OFFSET_US / 1000} ms`;
  if (told.length === 0)
    return sound.places.some((place) => place.state === 'same')
      ? {
          state: 'person',
          label,
          figure: null,
          wanted,
          method: `cross-correlation with the recording at ${sound.places.length} places`,
          sentence: 'One steady tone fits at every period, so nothing tells whether it is in step.',
        }
      : null;
  const worst = told.reduce((left, right) =>
    Math.abs(right.offsetUs ?? 0) > Math.abs(left.offsetUs ?? 0) ? right : left,
  );
  const offsetUs = worst.offsetUs ?? 0;
  const ms = offsetUs / 1000;
  const isMet = Math.abs(offsetUs) <= MOST_OFFSET_US;
  return {
    state: when(isMet),
    label,
    figure: `${ms < 0 ? '−' : ''}${Math.abs(ms).toFixed(1)} ms`,
    value: offsetUs,
    unit: 'us',
    wanted,
    margin: MOST_OFFSET_US - Math.abs(offsetUs),
    method: `cross-correlation with the recording at ${told.length} places and every join`,
    sentence: isMet
      ? 'The sound is in step as it was recorded.'
      : `At ${formatDuration(worst.atUs, 1)} it comes ${Math.abs(ms).toFixed(0)} ms too ${ms > 0 ? 'late' : 'early'}.`,
  };
}

/** Whether it is as loud as it was to be. */
export function judgeLoudness({ facts, expectedLufs, isSoundWanted }: ProofEvidence): Row | null {
  const found = facts.sound?.loudnessLufs ?? null;
  if (!facts.sound || !isSoundWanted || expectedLufs === null) return null;
  const wanted = `${writeLevel(expectedLufs)} LUFS, as recorded and asked for`;
  const method = 'ITU-R BS.1770-4 on the kept part and on the made file';
  const off = found === null ? -Infinity : found - expectedLufs;
  const isMet = Math.abs(off) <= MOST_LOUDNESS_CHANGE_LU;
  return {
    state: when(isMet),
    label: 'Loudness kept',
    figure: found === null ? 'silence' : `${writeLevel(found)} LUFS`,
    value: found,
    unit: 'lufs',
    wanted,
    margin: found === null ? null : MOST_LOUDNESS_CHANGE_LU - Math.abs(off),
    method,
    sentence: isMet
      ? 'The sound is as loud as it was to be.'
      : found === null
        ? 'The sound is silent.'
        : `The sound is ${Math.abs(off).toFixed(1)} LU ${off > 0 ? 'louder' : 'quieter'} than it was to be.`,
  };
}

function writeLevel(level: number): string {
  return `${level < 0 ? '−' : ''}${Math.abs(level).toFixed(1)}`;
}
