import { COURSE_RATE_HZ, LEVEL_COLUMN_US, type SoundEvidence } from '../series/evidence.ts';
import type { SoundBlocks } from '../series/sound-blocks.ts';
import { measureCourse } from './mend-sound.ts';

const FULL_SCALE = 32_768;
const SILENT_STEP = 255;
const STEPS_PER_DB = 2;

/**
 * The evidence of a separate recording, placed in the picture's time, with the take's own sound under it,
 * raised by `ownDb`; and by how much the mix is louder, in LU, than the powers of both together: recordings
 * of the same sound help or hinder each other.
 */
export function mixSoundEvidence(
  heard: SoundEvidence,
  own: SoundEvidence,
  ownDb: number,
): { readonly evidence: SoundEvidence; readonly moreLu: number } {
  const gain = 10 ** (ownDb / 20);
  const atSample = Math.round(((heard.startUs - own.startUs) * COURSE_RATE_HZ) / 1e6);
  const under = Float32Array.from(
    heard.course,
    (_, index) => (gain * (own.course[index + atSample] ?? 0)) / FULL_SCALE,
  );
  const over = Float32Array.from(heard.course, (value) => value / FULL_SCALE);
  const both = over.map((value, index) => value + (under[index] ?? 0));
  const [one, other, mixed] = [measureCourse(over), measureCourse(under), measureCourse(both)];
  const apart = [one, other].flatMap((lufs) => (lufs === null ? [] : [10 ** (lufs / 10)]));
  const together = apart.reduce((sum, each) => sum + each, 0);
  const atColumn = Math.round((heard.startUs - own.startUs) / LEVEL_COLUMN_US);
  const power = (step: number | undefined) =>
    step === undefined || step === SILENT_STEP ? 0 : 10 ** (-step / STEPS_PER_DB / 10);
  const addLevels = (left: Uint8Array, right: Uint8Array) =>
    left.map((step, column) => {
      const sum = power(step) + gain ** 2 * power(right[column + atColumn]);
      return sum <= 1e-12
        ? SILENT_STEP
        : Math.max(0, Math.min(SILENT_STEP - 1, Math.round(-10 * Math.log10(sum) * STEPS_PER_DB)));
    });
  const ownRight = own.sides === 1 ? own.levelLeft : own.levelRight;
  const heardRight = heard.sides === 1 ? heard.levelLeft : heard.levelRight;
  return {
    evidence: {
      ...heard,
      sides: heard.sides === 2 || own.sides === 2 ? 2 : 1,
      course: Int16Array.from(both, (value) =>
        Math.max(-FULL_SCALE, Math.min(FULL_SCALE - 1, Math.round(value * FULL_SCALE))),
      ),
      levelLeft: addLevels(heard.levelLeft, own.levelLeft),
      levelRight: addLevels(heardRight, ownRight),
    },
    moreLu: mixed === null || together <= 0 ? 0 : mixed - 10 * Math.log10(together),
  };
}

/** Blocks that are so much louder, or quieter. */
export function raiseBlocks(blocks: SoundBlocks, moreLu: number): SoundBlocks {
  const factor = 10 ** (moreLu / 10);
  const raise = (power: Float32Array) => power.map((value) => value * factor);
  return {
    ...blocks,
    powerLeft: raise(blocks.powerLeft),
    powerRight: raise(blocks.powerRight),
    powerMix: raise(blocks.powerMix),
  };
}
