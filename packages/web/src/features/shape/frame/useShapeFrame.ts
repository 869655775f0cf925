import {
  addQuarterTurn,
  convertRgbToLuma,
  createPlainRecipe,
  findHorizon,
  flatSize,
  frameSize,
  lockCrop,
  readUprightStance,
  type Crop,
  type Limit,
  type MediaFacts,
  type Recipe,
  type RgbPicture,
  type TakeSeries,
  type TakeView,
} from '@apodix/core';
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue';
import type { RecipeEditor } from '../useRecipeEditor.ts';
import { trimEdges } from './trim-edges.ts';
import { useFlatten } from './useFlatten.ts';
import { useHidden } from './useHidden.ts';
import { useSteady } from './useSteady.ts';

export interface FrameOptions {
  readonly editor: RecipeEditor;
  readonly take: ComputedRef<TakeView | null>;
  readonly facts: ComputedRef<Pick<MediaFacts, 'video'> | null>;
  readonly series: ComputedRef<TakeSeries | null>;
  readonly limits: ComputedRef<readonly Limit[]>;
  readonly positionUs: Readonly<Ref<number>>;
}

/** How the picture stands, which part of it is kept, what is hidden in it and how calm it is. */
export function useShapeFrame(options: FrameOptions) {
  const { editor, take, facts, limits } = options;
  const { recipe } = editor;
  const isCropping = ref(false);
  const isLeveling = ref(false);
  const aspect = ref<number | null>(null);
  const hidden = useHidden(editor, options.positionUs);
  const flat = useFlatten(editor, take);
  const steady = useSteady(editor, take, facts, options.series);
  const changePicture = (changes: Partial<Recipe['picture']>, isDragging = false) =>
    editor.change({ ...recipe.value, picture: { ...recipe.value.picture, ...changes } }, isDragging);
  const turn = (quarters: 1 | -1) =>
    changePicture({ turnDegrees: addQuarterTurn(recipe.value.picture.turnDegrees, quarters), crop: null });
  const mirror = () => changePicture({ isMirrored: !recipe.value.picture.isMirrored });
  /** How far the picture leans as it was recorded, clockwise; null where nothing tells. */
  const leanDegrees = ref<number | null>(null);
  watch(
    () => take.value?.id,
    () => {
      leanDegrees.value = null;
      isCropping.value = false;
    },
  );
  /** Size of the picture before it is cut to a part. */
  const uncut = computed(() => {
    const { picture } = recipe.value;
    const size = facts.value?.video ?? take.value?.facts?.photo ?? null;
    return (
      size && frameSize(flatSize(size, picture.flatten), { ...picture, crop: null, barsTo: null, border: 0 })
    );
  });
  const aspects = computed(() => {
    const own = limits.value.find((limit) => limit.kind === 'aspect');
    const usual = (
      [
        [16, 9],
        [4, 3],
        [1, 1],
        [3, 4],
        [9, 16],
      ] as const
    ).map(([w, h]) => ({
      label: `${w}:${h}`,
      value: w / h,
    }));
    return [
      { label: 'as recorded', value: null },
      ...(own ? [{ label: `${own.width}:${own.height}, as wanted`, value: own.width / own.height }] : []),
      ...usual.filter((each) => !own || Math.abs(each.value - own.width / own.height) > 1e-6),
    ];
  });
  function chooseAspect(next: number | null): void {
    aspect.value = next;
    if (next === null || !uncut.value) return changePicture({ crop: null, barsTo: null });
    if (recipe.value.picture.barsTo !== null) return changePicture({ barsTo: next });
    const crop = lockCrop(uncut.value, recipe.value.picture.crop, next);
    const isWhole = crop !== null && crop.width > 0.999 && crop.height > 0.999;
    changePicture({ crop: isWhole ? null : crop });
  }

  return {
    isCropping,
    isLeveling,
    steady,
    flat,
    aspects,
    aspect,
    /** Width to height of the part in shares of the picture's edges, where proportions are locked. */
    cropLock: computed(() =>
      aspect.value !== null && uncut.value
        ? (aspect.value * uncut.value.heightPx) / uncut.value.widthPx
        : null,
    ),
    turn,
    mirror,
    straighten: (straightenDegrees: number, isDragging: boolean) => {
      isLeveling.value = isDragging;
      changePicture({ straightenDegrees }, isDragging);
    },
    setCrop: (crop: Crop, isDragging: boolean) => {
      const isWhole = crop.width > 0.999 && crop.height > 0.999;
      changePicture({ crop: isWhole ? null : crop }, isDragging);
    },
    /** Which way the writing would run in what is made, where that is not upright. */
    wrongWay: computed(() => {
      const way = take.value?.facts?.photo?.writingWay ?? null;
      if (way === null) return null;
      const { turnDegrees, isMirrored } = recipe.value.picture;
      const wanted = readUprightStance(way);
      const isRight = wanted.turnDegrees === turnDegrees && wanted.isMirrored === isMirrored;
      return isRight || way === 'upright' ? null : way;
    }),
    standWriting: () => {
      const way = take.value?.facts?.photo?.writingWay ?? 'upright';
      changePicture({ ...readUprightStance(way), crop: null });
    },
    trim: (share: number, isDragging: boolean) => changePicture({ crop: trimEdges(share) }, isDragging),
    setBorder: (border: number, isDragging: boolean) => changePicture({ border }, isDragging),
    chooseAspect,
    /** Bars in place of cutting, or the other way round. */
    switchBars: () => {
      if (recipe.value.picture.barsTo === null) return changePicture({ crop: null, barsTo: aspect.value });
      changePicture({ barsTo: null });
      chooseAspect(aspect.value);
    },
    hidden,
    lookAtHorizon: (picture: RgbPicture | null) =>
      (leanDegrees.value = picture && findHorizon(convertRgbToLuma(picture))),
    levelDegrees: computed(() =>
      leanDegrees.value === null
        ? null
        : Math.round((recipe.value.picture.isMirrored ? 1 : -1) * leanDegrees.value * 10) / 10,
    ),
    isInterlaced: computed(
      () =>
        (facts.value?.video ?? null) !== null &&
        (take.value?.facts?.video?.interlace !== 'progressive' ||
          recipe.value.picture.deinterlace !== 'where-found'),
    ),
    setDeinterlace: (deinterlace: Recipe['picture']['deinterlace']) => changePicture({ deinterlace }),
    reset: () => {
      aspect.value = null;
      const { color, light, about } = recipe.value.picture;
      changePicture({ ...createPlainRecipe().picture, color, light, about });
    },
  };
}
