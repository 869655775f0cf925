import { findHidden, markHidden, MOST_HIDDEN, type HiddenArea, type Place, type Recipe } from '@apodix/core';
import { computed, ref, type Ref } from 'vue';
import type { RecipeEditor } from '../useRecipeEditor.ts';

/** A first area: about a face at some distance. */
const FIRST = { radiusX: 0.07, radiusY: 0.12 };

/** Areas that nobody shall recognise: set at a few moments, moving in straight lines in between. */
export function useHidden(editor: RecipeEditor, positionUs: Readonly<Ref<number>>) {
  const chosen = ref(0);
  const areas = computed(() => editor.recipe.value.picture.hidden);
  const set = (hidden: Recipe['picture']['hidden'], isDragging = false) =>
    editor.change(
      { ...editor.recipe.value, picture: { ...editor.recipe.value.picture, hidden } },
      isDragging,
    );
  const change = (index: number, next: (area: HiddenArea) => HiddenArea, isDragging: boolean) =>
    set(
      areas.value.map((area, each) => (each === index ? next(area) : area)),
      isDragging,
    );
  return {
    areas,
    chosen,
    isFull: computed(() => areas.value.length >= MOST_HIDDEN),
    choose: (index: number) => (chosen.value = index),
    add: () => {
      chosen.value = areas.value.length;
      set([...areas.value, { ...FIRST, path: [{ timeUs: Math.round(positionUs.value), x: 0.5, y: 0.4 }] }]);
    },
    /** Elsewhere at the moment on screen; before and after it goes on to its other marks. */
    move: (index: number, place: Place, isDragging: boolean) =>
      change(index, (area) => markHidden(area, positionUs.value, place), isDragging),
    resize: (index: number, radiusX: number, radiusY: number, isDragging: boolean) =>
      change(index, (area) => ({ ...area, radiusX, radiusY }), isDragging),
    remove: (index: number) => {
      chosen.value = Math.max(0, index - 1);
      set(areas.value.filter((_, each) => each !== index));
    },
    /** All marks but those of the moment on screen are forgotten: it stands still there. */
    stand: (index: number) =>
      change(
        index,
        (area) => markHidden({ ...area, path: [] }, positionUs.value, findHidden(area, positionUs.value)),
        false,
      ),
  };
}
