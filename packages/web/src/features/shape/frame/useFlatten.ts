import { flattenSeen, type Flatten, type Quad, type TakeView } from '@apodix/core';
import { computed, ref, watch, type ComputedRef } from 'vue';
import type { RecipeEditor } from '../useRecipeEditor.ts';

/** Where corners begin if none were found: well inside, so that each can be seen and taken hold of. */
const INSET = 0.12;
const FIRST: Flatten['corners'] = [
  { x: INSET, y: INSET },
  { x: 1 - INSET, y: INSET },
  { x: 1 - INSET, y: 1 - INSET },
  { x: INSET, y: 1 - INSET },
];
/** Sheets by their longer to their shorter edge; ISO 216 and ANSI. */
export const SHEETS = [
  { label: 'A-series sheet', ratio: Math.SQRT2 },
  { label: 'letter', ratio: 11 / 8.5 },
  { label: '4:3', ratio: 4 / 3 },
  { label: '3:2', ratio: 1.5 },
  { label: 'square', ratio: 1 },
] as const;

/** Bringing a photographed piece flat: its corners, found or set by hand, and its proportions. */
export function useFlatten(editor: RecipeEditor, take: ComputedRef<TakeView | null>) {
  const isSetting = ref(false);
  const flatten = computed(() => editor.recipe.value.picture.flatten);
  /** What was found in the photograph; null where nothing stands out, undefined where nobody looked. */
  const seen = computed(() => take.value?.facts?.photo?.piece);
  const set = (next: Flatten | null, isDragging = false) => {
    const { recipe } = editor;
    editor.change(
      { ...recipe.value, picture: { ...recipe.value.picture, flatten: next, crop: null } },
      isDragging,
    );
  };
  watch(
    () => take.value?.id,
    () => (isSetting.value = false),
  );
  return {
    flatten,
    seen,
    isSetting,
    isPossible: computed(() => Boolean(take.value?.facts?.photo)),
    corners: computed(() => flatten.value?.corners ?? seen.value?.corners ?? FIRST),
    /** The corners that were found; by hand where none were, or the piece goes on beyond the picture. */
    start: () => {
      const found = seen.value;
      set(found ? flattenSeen(found) : { corners: FIRST, aspect: null });
      if (!found || found.isCutOff) isSetting.value = true;
    },
    move: (corners: Quad, isDragging: boolean) =>
      set({ aspect: null, ...flatten.value, corners: corners as Flatten['corners'] }, isDragging),
    setAspect: (aspect: number | null) => flatten.value && set({ ...flatten.value, aspect }),
    /** How much the lens bowed its sides: what was cut off of it stays cut off. */
    setLens: (lens: number, isDragging: boolean) => {
      const { recipe } = editor;
      const own = recipe.value.picture;
      if (!own.flatten) return;
      const { corners, aspect } = own.flatten;
      const next = { corners, aspect, ...(lens === 0 ? {} : { lens }) };
      editor.change({ ...recipe.value, picture: { ...own, flatten: next } }, isDragging);
    },
    remove: () => {
      isSetting.value = false;
      set(null);
    },
  };
}
