import type { MediaFacts } from '../media/facts.ts';
import type { Recipe } from '../recipe/recipe.ts';
import type { TakeSeries } from '../series/take-series.ts';
import { measureSoundLevel, type SideMix, type SoundLevel } from '../sound/measure-level.ts';
import { buildTakeTimeline, listKeptRanges } from './plan-timeline.ts';

/**
 * Level of what a recipe keeps of a take, before its gain: from the blocks of the take; where there are none,
 * that of the whole take. null where it has no sound.
 */
export function measureKeptLevel(
  facts: MediaFacts,
  series: TakeSeries,
  recipe: Pick<Recipe, 'spans'>,
  mix: SideMix = 'as-recorded',
): SoundLevel | null {
  const { sound } = facts;
  if (!sound) return null;
  const { blocks } = series;
  if (!blocks)
    return {
      loudnessLufs: sound.loudnessLufs,
      loudnessRangeLu: sound.loudnessRangeLu,
      truePeakDbtp: sound.truePeakDbtp,
      clippedCount: sound.clippedCount ?? 0,
    };
  const isWhole = recipe.spans.length === 0 && !series.places;
  const rate = facts.video?.frameRate ?? null;
  const isPlaced = !facts.video || series.frames !== null;
  const ranges = isWhole || !isPlaced ? null : listKeptRanges(buildTakeTimeline(facts, series, recipe, rate));
  return measureSoundLevel(blocks, ranges, mix);
}
