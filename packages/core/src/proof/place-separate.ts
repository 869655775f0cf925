import { findPictureTime, readStretch } from '../plan/separate-sound.ts';
import type { RecipeSource } from '../recipe/recipe.ts';
import type { SoundEvidence } from '../series/evidence.ts';

/**
 * The evidence of a separate recording in the picture's own time: begun where it is laid, and drawn
 * out by the
 * difference of both clocks.
 */
export function placeSeparateEvidence(evidence: SoundEvidence, source: RecipeSource): SoundEvidence {
  const stretch = readStretch(source);
  const startUs = Math.round(findPictureTime(source, evidence.startUs));
  if (stretch === 1) return { ...evidence, startUs };
  const { course } = evidence;
  const drawn = new Int16Array(Math.floor(course.length * stretch));
  for (let at = 0; at < drawn.length; at += 1) {
    const from = at / stretch;
    const before = Math.floor(from);
    const share = from - before;
    drawn[at] = Math.round((course[before] ?? 0) * (1 - share) + (course[before + 1] ?? 0) * share);
  }
  const spread = (levels: Uint8Array) =>
    Uint8Array.from(
      { length: Math.floor(levels.length * stretch) },
      (_, column) => levels[Math.min(levels.length - 1, Math.round(column / stretch))] ?? 255,
    );
  return {
    ...evidence,
    startUs,
    course: drawn,
    levelLeft: spread(evidence.levelLeft),
    levelRight: spread(evidence.levelRight),
  };
}
