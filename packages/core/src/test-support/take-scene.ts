import { createRandom } from './piece-scene.ts';

/** A take of a performance in a room, with what happens around it, and the truth about both ends. */
export interface TakeScene {
  readonly samples: Float32Array;
  readonly onsetS: number;
  /** Where the last note falls below the room's noise, or ends. */
  readonly decayS: number;
  /** What was put around it, for a table of faults. */
  readonly story: string;
}

export type Performer = 'struck' | 'bowed' | 'sung' | 'spoken';

const SCALE_HZ = [220, 247, 262, 294, 330, 349, 392, 440, 494, 523, 587, 659] as const;
type Random = () => number;

class Room {
  readonly samples: Float64Array;
  readonly rateHz: number;
  readonly random: Random;

  constructor(rateHz: number, lengthS: number, random: Random) {
    this.rateHz = rateHz;
    this.random = random;
    this.samples = new Float64Array(Math.ceil(lengthS * rateHz));
  }

  /** Adds `write(t)` from `atS` on for `lengthS`. */
  add(atS: number, lengthS: number, write: (t: number) => number): void {
    const from = Math.max(0, Math.round(atS * this.rateHz));
    const to = Math.min(this.samples.length, Math.round((atS + lengthS) * this.rateHz));
    for (let at = from; at < to; at += 1)
      this.samples[at] = (this.samples[at] ?? 0) + write((at - from) / this.rateHz);
  }
}

const TURN = 2 * Math.PI;

function addNote(
  room: Room,
  performer: Performer,
  atS: number,
  lengthS: number,
  hz: number,
  level: number,
): number {
  const isStruck = performer === 'struck';
  const ringS = isStruck ? lengthS + 1.6 : lengthS + 0.12;
  const vibrato = performer === 'sung' ? 0.006 : performer === 'bowed' ? 0.003 : 0;
  const attackS = isStruck ? 0.004 : 0.04;
  room.add(atS, ringS, (t) => {
    const swell = Math.min(1, t / attackS);
    const fall = isStruck ? Math.exp(-3.2 * t) : t > lengthS ? Math.exp(-(t - lengthS) * 30) : 1;
    const phase = TURN * hz * (t + (vibrato / (TURN * 5.5)) * Math.sin(TURN * 5.5 * t));
    let sum = 0;
    for (let k = 1; k <= (isStruck ? 3 : 7); k += 1) sum += Math.sin(k * phase) / (isStruck ? k * k : k);
    return level * swell * fall * sum * 0.5;
  });
  return ringS;
}

/** A syllable: a voice whose pitch glides, through two resonances, with some breath. */
function addSyllable(room: Room, atS: number, lengthS: number, level: number): void {
  const { random } = room;
  const from = 95 + random() * 120;
  const to = from * (0.75 + random() * 0.5);
  const formants = [300 + random() * 500, 1000 + random() * 1200] as const;
  room.add(atS, lengthS, (t) => {
    const share = t / lengthS;
    const shape = Math.sin(Math.PI * share) ** 0.6;
    const phase = TURN * (from * t + ((to - from) * t * t) / (2 * lengthS));
    const hz = from + (to - from) * share;
    let sum = 0;
    for (let k = 1; k * hz < 3400; k += 1) {
      const gain = formants.reduce(
        (best, formant) => Math.max(best, 1 / (1 + ((k * hz - formant) / 140) ** 2)),
        0.03,
      );
      sum += gain * Math.sin(k * phase);
    }
    return level * shape * (sum * 0.45 + (random() - 0.5) * 0.12);
  });
}

/** Gives where its last syllable ends. */
function addTalk(room: Room, atS: number, lengthS: number, level: number): number {
  const { random } = room;
  let endS = atS;
  for (let t = 0; t < lengthS - 0.12;) {
    const syllableS = Math.min(lengthS - t, 0.1 + random() * 0.14);
    addSyllable(room, atS + t, syllableS, level * (0.6 + 0.4 * random()));
    endS = atS + t + syllableS;
    t += syllableS + (random() < 0.14 ? 0.2 + random() * 0.35 : 0.015 + random() * 0.05);
  }
  return endS;
}

function addSteps(room: Room, atS: number, count: number, level: number): void {
  const { random } = room;
  for (let step = 0; step < count; step += 1) {
    const hz = 70 + random() * 60;
    room.add(
      atS + step * (0.5 + random() * 0.12),
      0.16,
      (t) => level * Math.exp(-38 * t) * (Math.sin(TURN * hz * t) + (random() - 0.5) * 1.2),
    );
  }
}

function addChair(room: Room, atS: number, lengthS: number, level: number): void {
  const { random } = room;
  let smooth = 0;
  room.add(atS, lengthS, (t) => {
    smooth += 0.5 * (random() - 0.5 - smooth);
    return (
      level *
      2.2 *
      smooth *
      (0.5 + 0.5 * Math.sin(TURN * 23 * t)) *
      Math.min(1, t / 0.03, (lengthS - t) / 0.05)
    );
  });
}

function addApplause(room: Room, atS: number, lengthS: number, level: number): void {
  const { random } = room;
  const claps = Math.round(lengthS * 55);
  for (let clap = 0; clap < claps; clap += 1) {
    const when = random() * lengthS;
    const swell = Math.min(1, (when + 0.15) / 0.5, (lengthS - when) / 1.5 + 0.1);
    const decay = 90 + random() * 80;
    room.add(atS + when, 0.06, (t) => level * swell * Math.exp(-decay * t) * (random() - 0.5) * 2.4);
  }
}

/** Long notes far apart, each tried again, as an instrument is tuned. */
function addTuning(room: Room, performer: Performer, atS: number, level: number): number {
  const { random } = room;
  let t = 0;
  const strings = [440, 293.66, 196].slice(0, 1 + Math.floor(random() * 3));
  for (const hz of strings)
    for (let tries = 0; tries < 2; tries += 1) {
      const lengthS = 0.9 + random() * 0.8;
      addNote(
        room,
        performer === 'sung' ? 'bowed' : performer,
        atS + t,
        lengthS,
        hz * (1 + (random() - 0.5) * 0.02),
        level,
      );
      t += lengthS + 0.25 + random() * 0.4;
    }
  return t;
}

function addPiece(
  room: Room,
  performer: Performer,
  atS: number,
  lengthS: number,
): { endS: number; heldS: number; level: number } {
  const { random } = room;
  const level = 0.16 + random() * 0.14;
  if (performer === 'spoken') {
    let [t, endS] = [0, atS];
    while (t < lengthS) {
      const phraseS = Math.min(lengthS - t, 1.5 + random() * 4);
      endS = addTalk(room, atS + t, phraseS, level * 1.6);
      t += phraseS + 0.4 + random() * (random() < 0.2 ? 3 : 0.8);
      if (lengthS - t < 1) break;
    }
    return { endS, heldS: 0, level };
  }
  const beatS = 0.22 + random() * 0.3;
  let [t, endS] = [0, atS];
  while (t < lengthS) {
    const noteS = beatS * (random() < 0.2 ? 2 : random() < 0.4 ? 0.5 : 1);
    const hz = SCALE_HZ[Math.floor(random() * SCALE_HZ.length)] ?? 440;
    addNote(room, performer, atS + t, noteS * 0.95, hz, level * (0.6 + 0.4 * random()));
    endS = atS + t + noteS;
    t += noteS + (random() < 0.03 ? 1.2 + random() * 2.2 : 0);
  }
  // The last one is held.
  const heldS = 0.8 + random() * 1.2;
  addNote(room, performer, endS, heldS, 220, level);
  return { endS: endS + heldS, heldS, level };
}

/** Builds one; the same for the same seed. `lengthS` is about that of the performance itself. */
export function buildTakeScene(
  seed: number,
  performer: Performer,
  lengthS: number,
  rateHz: number,
): TakeScene {
  const random = createRandom(seed * 7907 + performer.length);
  const room = new Room(rateHz, lengthS * 1.4 + 60, random);
  const story: string[] = [];
  const noise = 10 ** (-(46 + random() * 18) / 20);
  let at = 0.8 + random() * 2;
  const around = (isBefore: boolean) => {
    const draw = random();
    const level = 0.05 + random() * 0.1;
    if (draw < 0.3 && performer !== 'spoken') {
      const talkS = 1.5 + random() * 4;
      addTalk(room, at, talkS, level * 1.5);
      at += talkS;
      story.push('talk');
    } else if (draw < 0.5) {
      const steps = 3 + Math.floor(random() * 6);
      addSteps(room, at, steps, level * 1.6);
      at += steps * 0.56;
      story.push('steps');
    } else if (draw < 0.7) {
      const chairS = 0.3 + random() * 0.9;
      addChair(room, at, chairS, level);
      at += chairS;
      story.push('chair');
    } else if (isBefore && draw < 0.85 && performer !== 'spoken') {
      at += addTuning(room, performer, at, level * 1.3);
      story.push('tuning');
    } else story.push('nothing');
    at += 1.1 + random() * 2.2;
  };
  for (let count = Math.floor(random() * 3); count >= 0; count -= 1) around(true);
  story.push('|');
  const onsetS = at;
  const { endS, heldS, level } = addPiece(room, performer, onsetS, lengthS);
  // What rings on is heard until it is as strong as the room's noise.
  const ringS = Math.min(heldS + 1.6, Math.log((level * 0.38) / (noise * 0.9)) / 3.2);
  at = endS;
  const hasApplause = random() < 0.35;
  const decayS = performer === 'struck' ? endS - heldS + ringS : endS + (performer === 'spoken' ? 0 : 0.08);
  if (hasApplause) {
    at = decayS + 0.15 + random() * 1.2;
    const applauseS = 3 + random() * 5;
    addApplause(room, at, applauseS, 0.2 + random() * 0.3);
    at += applauseS + 1;
    story.push('applause');
  } else at = decayS + 1 + random() * 2.5;
  for (let count = Math.floor(random() * 3); count > 0; count -= 1) around(false);
  at += 0.5 + random() * 2;
  const count = Math.round(at * rateHz);
  let brown = 0;
  const samples = Float32Array.from({ length: count }, (_, index) => {
    brown = 0.97 * brown + 0.24 * (random() - 0.5);
    return (room.samples[index] ?? 0) + noise * ((random() - 0.5) * 2.4 + brown * 2);
  });
  return { samples, onsetS, decayS, story: story.join(' ') };
}
