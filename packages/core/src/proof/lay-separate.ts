import { readSoundSource } from '../plan/separate-sound.ts';
import type { Recipe } from '../recipe/recipe.ts';
import type { Evidence, SoundEvidence } from '../series/evidence.ts';
import type { TakeSeries } from '../series/take-series.ts';
import { mixSoundEvidence, raiseBlocks } from './mix-sound.ts';
import { placeSeparateEvidence } from './place-separate.ts';

/**
 * What is known of a take once the sound of a separate recording is laid on it: its evidence, and the blocks
 * of `series`, which tell of both already, as loud as the mix really is.
 */
export function laySeparate(
  take: { readonly evidence: Evidence; readonly series: TakeSeries },
  recipe: Pick<Recipe, 'sources' | 'sound'>,
  separate: SoundEvidence | null,
): { evidence: Evidence; series: TakeSeries } {
  const source = readSoundSource(recipe);
  const placed = source && separate ? placeSeparateEvidence(separate, source) : null;
  const own = take.evidence.sound;
  const { ownDb } = recipe.sound;
  if (!placed || !own || ownDb === null)
    return { evidence: { ...take.evidence, sound: placed }, series: take.series };
  const { evidence, moreLu } = mixSoundEvidence(placed, own, ownDb);
  const { blocks } = take.series;
  return {
    evidence: { ...take.evidence, sound: evidence },
    series: { ...take.series, blocks: blocks && raiseBlocks(blocks, moreLu) },
  };
}
