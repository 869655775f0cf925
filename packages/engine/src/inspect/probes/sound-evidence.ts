import { COURSE_RATE_HZ, LEVEL_COLUMN_US, type SoundEvidence, type SoundFacts } from '@apodix/core';
import { UNHURRIED, type Probe } from './probe.ts';

export interface SoundEvidenceProbe extends Probe {
  readonly finish: () => SoundEvidence;
}

const FULL_SCALE = 32_768;
const STEPS_PER_DB = 2;
const SILENT_STEP = 255;
const COLUMN_SAMPLES = (COURSE_RATE_HZ * LEVEL_COLUMN_US) / 1e6;

/** Leaves the level of every hundredth of a second on both sides, and the course of both mixed to one. */
export function probeSoundEvidence(sound: SoundFacts): SoundEvidenceProbe {
  const sides = sound.channels === 1 ? 1 : 2;
  const levels: [number[], number[]] = [[], []];
  const parts: Int16Array[] = [];
  const sums = [0, 0];
  let inColumn = 0;
  let rest: Buffer = Buffer.alloc(0);
  const closeColumn = () => {
    for (let side = 0; side < sides; side += 1) {
      levels[side as 0 | 1].push(toStep((sums[side] ?? 0) / Math.max(1, inColumn)));
      sums[side] = 0;
    }
    inColumn = 0;
  };
  const onData = (data: Buffer) => {
    const bytes = rest.length > 0 ? Buffer.concat([rest, data]) : data;
    const frames = Math.floor(bytes.length / (2 * sides));
    const course = new Int16Array(frames);
    for (let index = 0; index < frames; index += 1) {
      let sum = 0;
      for (let side = 0; side < sides; side += 1) {
        const sample = bytes.readInt16LE((index * sides + side) * 2);
        sums[side] = (sums[side] ?? 0) + sample * sample;
        sum += sample;
      }
      course[index] = Math.round(sum / sides);
      inColumn += 1;
      if (inColumn === COLUMN_SAMPLES) closeColumn();
    }
    parts.push(course);
    rest = Buffer.from(bytes.subarray(frames * 2 * sides));
  };
  const layout = sides === 1 ? 'mono' : 'stereo';
  return {
    takes: 'sound',
    buildChains: (from) => [
      {
        from: [from],
        filters: [
          `aformat=channel_layouts=${layout}`,
          `aresample=${COURSE_RATE_HZ}:async=1:first_pts=0`,
          'aformat=sample_fmts=s16',
        ],
        to: ['course'],
      },
    ],
    outputs: [{ pad: 'course', args: [...UNHURRIED, '-f', 's16le'], onData }],
    finish: () => {
      if (inColumn > COLUMN_SAMPLES / 2) closeColumn();
      const course = new Int16Array(parts.reduce((sum, part) => sum + part.length, 0));
      let at = 0;
      for (const part of parts) {
        course.set(part, at);
        at += part.length;
      }
      const left = Uint8Array.from(levels[0]);
      return {
        startUs: 0,
        sides,
        levelLeft: left,
        levelRight: sides === 1 ? left : Uint8Array.from(levels[1]),
        course,
      };
    },
  };
}

function toStep(power: number): number {
  const db = 10 * Math.log10(power / FULL_SCALE ** 2 + 1e-13);
  return Math.max(0, Math.min(SILENT_STEP, Math.round(-db * STEPS_PER_DB)));
}
