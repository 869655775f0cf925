import { addBar, addRoom, addThud, createTrack } from './synthesis.ts';

export interface Note {
  readonly atS: number;
  readonly hand: 0 | 1;
  /** Bar of the instrument from the left. */
  readonly bar: number;
}

/** Before this the player still walks up and settles. */
export const PERFORMANCE_START_S = 4;
const BEAT_S = 0.29;
const PHRASE = [4, 6, 8, 6, 9, 8, 6, 4, 3, 6, 8, 11, 9, 8, 6, 8];
const SCALE_HZ = [
  196, 220, 246.9, 293.7, 329.6, 392, 440, 493.9, 587.3, 659.3, 784, 880, 987.8, 1174.7, 1318.5, 1568, 1760,
];

/**
 * An invented pattern piece: a phrase that shifts, with a slower line in the left hand. Lasts until about
 * second 35.
 */
export const melody: readonly Note[] = Array.from({ length: 106 }, (_, index): Note[] => {
  const atS = PERFORMANCE_START_S + index * BEAT_S;
  const right = (PHRASE[index % PHRASE.length] ?? 4) + Math.floor(index / 32);
  return [
    { atS, hand: 1, bar: Math.min(16, right + 3) },
    ...(index % 4 === 0 ? [{ atS, hand: 0 as const, bar: Math.max(0, Math.floor(index / 8) % 5) }] : []),
  ];
}).flat();

export function synthesizeMarimba(durationS: number, finishS: number, level: number): Float32Array {
  const track = createTrack(durationS);
  addRoom(track, 0.0016, 7);
  [0.6, 1.3, 2.1].forEach((atS, index) => addThud(track, atS, 0.03, 20 + index));
  for (const note of melody)
    if (note.atS < finishS)
      addBar(track, note.atS, SCALE_HZ[note.bar] ?? 220, level * (note.hand === 1 ? 1 : 0.8));
  [0.5, 1.2, 1.9].forEach((afterS, index) => addThud(track, durationS - 3 + afterS, 0.03, 40 + index));
  return track;
}
