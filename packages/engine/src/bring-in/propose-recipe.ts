import { propose, proposeColor, readSoundFaults, type Limit, type Recipe } from '@apodix/core';
import type { Inspected } from './bring-in.ts';

/** The whole proposal for a take that was just measured. */
export function proposeRecipe(
  { facts, series, evidence }: Pick<Inspected, 'facts' | 'series' | 'evidence'>,
  limits: readonly Limit[],
): Recipe {
  const color = evidence.colors && facts.kind === 'video' ? proposeColor(evidence.colors) : null;
  const faults = evidence.sound ? readSoundFaults(evidence.sound) : null;
  return propose(facts, series, limits, null, { color, faults }).recipe;
}
