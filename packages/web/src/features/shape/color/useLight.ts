import {
  cleanDisplayName,
  isUneven,
  measureUnevenness,
  proposeBySheet,
  type EvenLight,
  type SeenLight,
  type TakeView,
} from '@apodix/core';
import { computed, ref, shallowRef, type ComputedRef } from 'vue';
import { useNotices } from '../../../stores/notices.ts';
import { useWork } from '../../../stores/work.ts';
import type { RecipeEditor } from '../useRecipeEditor.ts';
import { loadPicture } from './load-picture.ts';

/** Evening out how a lamp lights a photograph: as its paper tells, or a photograph of a blank sheet. */
export function useLight(editor: RecipeEditor, take: ComputedRef<TakeView | null>) {
  const [work, notices] = [useWork(), useNotices()];
  const light = computed(() => editor.recipe.value.picture.light);
  const photo = computed(() => take.value?.facts?.photo ?? null);
  /** Blank sheets that told how photographs are lit, during this visit. */
  const bySheets = shallowRef<readonly SeenLight[]>([]);
  /** What told the light that is used, or could be; null where nothing does. */
  const seen = computed(() => {
    const told = [...bySheets.value, photo.value?.light];
    if (!light.value) return photo.value?.light;
    const used = JSON.stringify(light.value);
    return told.find((each) => each && JSON.stringify(each.even) === used) ?? null;
  });
  const isLoading = ref(false);
  const set = (next: EvenLight | null) => {
    const { recipe } = editor;
    editor.change({ ...recipe.value, picture: { ...recipe.value.picture, light: next } });
  };
  /** Other photographs of this assignment: one of them may be of a blank sheet. */
  const sheets = computed(() =>
    work.takes
      .filter((each) => each.id !== take.value?.id && each.facts?.photo && each.proxyUrl !== null)
      .map((each) => ({ id: each.id, name: cleanDisplayName(each.name, 22) })),
  );
  async function useSheet(takeId: string): Promise<void> {
    const [own, other] = [take.value, work.takes.find((each) => each.id === takeId)];
    if (!own || !photo.value || !other?.proxyUrl) return;
    isLoading.value = true;
    try {
      const sheet = await loadPicture(other.proxyUrl);
      if (take.value?.id !== own.id || !photo.value) return;
      const found = proposeBySheet(editor.recipe.value, photo.value, sheet);
      bySheets.value = [...bySheets.value, found.seen];
      editor.change(found.recipe);
    } catch (error) {
      const why = error instanceof RangeError ? error.message : 'Try it again.';
      notices.add('The light could not be told by that photograph.', why, true);
    } finally {
      isLoading.value = false;
    }
  }
  return {
    light,
    seen,
    isLoading,
    isPossible: computed(() => photo.value !== null),
    /** How uneven the light is that is evened out, whatever told it. */
    evened: computed(() => light.value && measureUnevenness(light.value)),
    isUneven: computed(() => Boolean(seen.value && isUneven(seen.value))),
    sheets,
    even: () => photo.value?.light && set(photo.value.light.even),
    leave: () => set(null),
    useSheet,
  };
}
