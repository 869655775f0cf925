import { COURSE_RATE_HZ, type SoundEvidence } from '../series/evidence.ts';
import { findSoundFaults, type SoundFaults } from '../sound/find-faults.ts';

const FULL_SCALE = 32_768;
const SILENT_DB = -120;
/** Levels are kept in steps of half a decibel below full scale; the last one is silence. */
const readLevels = (steps: Uint8Array) =>
  Float32Array.from(steps, (step) => (step === 255 ? SILENT_DB : -step / 2));

/** Faults of a take's sound, from what inspection left of it. */
export function readSoundFaults(evidence: SoundEvidence): SoundFaults {
  const course = Float32Array.from(evidence.course, (value) => value / FULL_SCALE);
  return findSoundFaults(course, COURSE_RATE_HZ, {
    left: readLevels(evidence.levelLeft),
    right: evidence.sides === 2 ? readLevels(evidence.levelRight) : null,
  });
}
