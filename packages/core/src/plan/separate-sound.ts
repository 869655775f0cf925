import type { MediaFacts } from '../media/facts.ts';
import type { Recipe, RecipeSource } from '../recipe/recipe.ts';
import type { TakeSeries } from '../series/take-series.ts';

/** A take that a recipe names beside its own. */
export interface OtherTake {
  readonly takeId: string;
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
}

/** The separate recording that a recipe takes the sound from; null where the take's own is heard. */
export function readSoundSource(recipe: Pick<Recipe, 'sources'>): RecipeSource | null {
  return recipe.sources.find((source) => source.role === 'sound') ?? null;
}

/** How many seconds of the picture one second of a separate recording is. */
export const readStretch = ({ driftPpm }: Pick<RecipeSource, 'driftPpm'>) => 1 + driftPpm / 1e6;

/** The moment of a separate recording that is heard at a moment of the picture. */
export function findSeparateTime(source: RecipeSource, pictureUs: number): number {
  return (pictureUs - source.offsetUs) / readStretch(source);
}

/** The moment of the picture at which a moment of a separate recording is heard. */
export function findPictureTime(source: RecipeSource, soundUs: number): number {
  return soundUs * readStretch(source) + source.offsetUs;
}

/**
 * A take as if it had been recorded with the sound that its recipe takes from elsewhere, in the picture's own
 * time; the take as it is where its own sound is heard, or the other recording is not there.
 */
export function applySeparateSound(
  take: { readonly facts: MediaFacts; readonly series: TakeSeries },
  recipe: Pick<Recipe, 'sources'>,
  others: readonly OtherTake[],
): { facts: MediaFacts; series: TakeSeries } {
  const source = readSoundSource(recipe);
  const separate = source && others.find((each) => each.takeId === source.takeId);
  const sound = separate?.facts.sound;
  if (!source || !separate || !sound) return take;
  const stretch = readStretch(source);
  const { blocks } = separate.series;
  const startUs = Math.round(findPictureTime(source, sound.startUs));
  return {
    facts: {
      ...take.facts,
      sound: {
        ...sound,
        startUs,
        startOffsetUs: startUs - (take.facts.video?.startUs ?? 0),
        durationUs: Math.round(sound.durationUs * stretch),
      },
    },
    series: {
      ...take.series,
      blocks: blocks && {
        ...blocks,
        startUs: findPictureTime(source, blocks.startUs),
        blockUs: blocks.blockUs * stretch,
      },
    },
  };
}
