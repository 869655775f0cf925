import {
  applyOthers,
  type OtherTake,
  chooseMix,
  EMPTY_SERIES,
  measureKeptLevel,
  LIMITED_DBTP,
  measureNoiseFloor,
  measureSoundLevel,
  type Limit,
  type Recipe,
  type SoundLevel,
  type TakeSeries,
  type TakeView,
} from '@apodix/core';
import { computed, type ComputedRef, type Ref } from 'vue';
import type { RecipeEditor } from '../useRecipeEditor.ts';

/** Loudness about a moment: momentary over 0.4 s, short-term over 3 s (EBU Tech 3341). */
const MOMENTARY_US = 400_000;
const SHORT_TERM_US = 3_000_000;

/**
 * The sound of the take on screen: figures from the blocks of the recording, and the gain that limits
 * ask for.
 */
export function useShapeSound(options: {
  readonly editor: RecipeEditor;
  readonly take: ComputedRef<TakeView | null>;
  readonly series: ComputedRef<TakeSeries | null>;
  readonly positionUs: Ref<number>;
  readonly limits: ComputedRef<readonly Limit[]>;
  readonly othersOf: (recipe: Recipe) => OtherTake[];
}) {
  const { editor, take, series, positionUs, limits } = options;
  /** The take with the sound that is heard: its own and joined takes', or that of a separate recording. */
  const heard = computed(() =>
    take.value?.facts
      ? applyOthers(
          { facts: take.value.facts, series: series.value ?? EMPTY_SERIES },
          editor.recipe.value,
          options.othersOf(editor.recipe.value),
        )
      : null,
  );
  const facts = computed(() => heard.value?.facts ?? null);
  const sound = computed(() => editor.recipe.value.sound);
  const channels = computed(() => Math.min(2, facts.value?.sound?.channels ?? 1));
  const mixed = computed(() => chooseMix(sound.value.sides, channels.value, channels.value));
  const addMix = (level: SoundLevel | null): SoundLevel | null =>
    level && level.loudnessLufs !== null
      ? { ...level, loudnessLufs: level.loudnessLufs + mixed.value.moreLu }
      : level;
  const level = computed(() =>
    facts.value
      ? addMix(
          measureKeptLevel(
            facts.value,
            heard.value?.series ?? EMPTY_SERIES,
            editor.recipe.value,
            mixed.value.mix,
          ),
        )
      : null,
  );
  const around = (lengthUs: number) => {
    const blocks = heard.value?.series.blocks;
    if (!blocks) return null;
    const half = lengthUs / 2;
    const range = { startUs: positionUs.value - half, finishUs: positionUs.value + half };
    return addMix(measureSoundLevel(blocks, [range], mixed.value.mix))?.loudnessLufs ?? null;
  };
  const loudness = computed(() => limits.value.find((limit) => limit.kind === 'loudness') ?? null);
  /** The one gain to the middle of what is wanted; null where it is there already, or nothing is asked. */
  const wantedGainDb = computed(() => {
    const own = level.value?.loudnessLufs ?? null;
    if (own === null || !loudness.value) return null;
    const { min, max } = loudness.value;
    const middle = min !== null && max !== null ? (min + max) / 2 : (min ?? max);
    return middle === null ? null : round(middle - own);
  });
  const peakRoom = computed(() =>
    level.value && level.value.truePeakDbtp !== null ? LIMITED_DBTP - level.value.truePeakDbtp : Infinity,
  );
  const targetGainDb = computed(() =>
    wantedGainDb.value === null || sound.value.isLimited
      ? wantedGainDb.value
      : round(Math.min(wantedGainDb.value, Math.max(0, peakRoom.value))),
  );

  return {
    sound,
    level,
    isStereo: computed(() => (facts.value?.sound?.channels ?? 1) > 1),
    hasSound: computed(() => Boolean(facts.value?.sound)),
    momentary: computed(() => around(MOMENTARY_US)),
    shortTerm: computed(() => around(SHORT_TERM_US)),
    targetGainDb,
    lackingDb: computed(() =>
      wantedGainDb.value === null || targetGainDb.value === null
        ? 0
        : Math.max(0, wantedGainDb.value - targetGainDb.value),
    ),
    faults: computed(() => take.value?.proposal?.soundFaults ?? null),
    noiseFloorDb: computed(() => {
      const blocks = heard.value?.series.blocks;
      return blocks ? measureNoiseFloor(blocks) : null;
    }),
    /** What is asked for of the loudness, for drawing it. */
    wanted: computed(() => (loudness.value ? { min: loudness.value.min, max: loudness.value.max } : null)),
    mix: computed(() => mixed.value),
    clippedCount: computed(() => level.value?.clippedCount ?? 0),
    change: (next: Recipe['sound'], isDragging: boolean) =>
      editor.change({ ...editor.recipe.value, sound: next }, isDragging),
  };
}

const round = (value: number) => Math.round(value * 10) / 10;
