import type { MediaFacts } from '../media/facts.ts';
import type { Recipe, RecipeSource } from '../recipe/recipe.ts';
import type { SoundBlocks } from '../series/sound-blocks.ts';
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
  recipe: Pick<Recipe, 'sources'> & Partial<Pick<Recipe, 'sound'>>,
  others: readonly OtherTake[],
): { facts: MediaFacts; series: TakeSeries } {
  const source = readSoundSource(recipe);
  const separate = source && others.find((each) => each.takeId === source.takeId);
  const sound = separate?.facts.sound;
  if (!source || !separate || !sound) return take;
  const stretch = readStretch(source);
  const { blocks } = separate.series;
  const placed = blocks && {
    ...blocks,
    startUs: findPictureTime(source, blocks.startUs),
    blockUs: blocks.blockUs * stretch,
  };
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
      blocks: placed && mixBlocks(placed, take.series.blocks, recipe.sound?.ownDb ?? null),
    },
  };
}

/**
 * The blocks of a separate recording with the take's own sound under it: powers add where both are of one
 * moment, as they do of sounds that know nothing of each other; how recordings of the same sound add is known
 * from their courses alone (`mixSoundEvidence`). Peaks add at the most.
 */
function mixBlocks(heard: SoundBlocks, own: SoundBlocks | null, ownDb: number | null): SoundBlocks {
  if (!own || ownDb === null) return heard;
  const gain = 10 ** (ownDb / 20);
  const at = (index: number) =>
    Math.round((heard.startUs + index * heard.blockUs - own.startUs) / own.blockUs);
  const add = (read: (blocks: SoundBlocks) => Float32Array, share: number) =>
    read(heard).map((value, index) => value + share * (read(own)[at(index)] ?? 0));
  return {
    ...heard,
    powerLeft: add((blocks) => blocks.powerLeft, gain ** 2),
    powerRight: add((blocks) => blocks.powerRight, gain ** 2),
    powerMix: add((blocks) => blocks.powerMix, gain ** 2),
    peak: add((blocks) => blocks.peak, gain),
  };
}
