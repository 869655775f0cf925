import { alignSound, type SoundAlignment } from '../align/align-sound.ts';
import type { SoundEvidence } from '../series/evidence.ts';

const FULL_SCALE = 32_768;
const readCourse = ({ course }: SoundEvidence) => Float32Array.from(course, (value) => value / FULL_SCALE);

/**
 * Where a separate recording lies on the sound of a picture, by what inspection left of both: the offset is
 * what has to be added to its own presentation times. null where either is too short or silent.
 */
export function laySound(picture: SoundEvidence, sound: SoundEvidence): SoundAlignment | null {
  const found = alignSound(readCourse(picture), readCourse(sound));
  if (!found) return null;
  // Both courses begin where their sound does, which is not always where the file does.
  const stretch = 1 + found.driftPpm / 1e6;
  return { ...found, offsetUs: Math.round(found.offsetUs + picture.startUs - sound.startUs * stretch) };
}
