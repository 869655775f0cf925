import { createPlainRecipe, isSameRecipe, type Recipe, type TakeView } from '@apodix/core';
import { computed, onScopeDispose, ref, shallowRef, watch, type ComputedRef, type Ref } from 'vue';
import { CallError } from '../../api/call-route.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';

export interface RecipeEditor {
  readonly recipe: Ref<Recipe>;
  readonly canUndo: ComputedRef<boolean>;
  readonly canRedo: ComputedRef<boolean>;
  readonly isSaved: ComputedRef<boolean>;
  /** Changes the recipe; `merge` joins a run of changes (a drag) into one step. */
  change(next: Recipe, merge?: boolean): void;
  undo(): void;
  redo(): void;
  save(): Promise<void>;
}

const SAVE_AFTER_MS = 600;

/**
 * Edits a take's recipe with undo and redo, and saves every settled version. Leaving the page saves at once.
 */
export function useRecipeEditor(take: ComputedRef<TakeView | null>): RecipeEditor {
  const work = useWork();
  const notices = useNotices();
  const recipe = shallowRef<Recipe>(createPlainRecipe());
  const past = ref<Recipe[]>([]);
  const future = ref<Recipe[]>([]);
  const saved = shallowRef<Recipe>(recipe.value);
  let version = 0;
  let takeId: string | null = null;
  let isMerging = false;
  let timer: ReturnType<typeof setTimeout> | null = null;
  let saving: Promise<void> = Promise.resolve();

  watch(
    take,
    (next) => {
      if (!next || next.id === takeId) return;
      void save();
      takeId = next.id;
      recipe.value = next.recipe?.recipe ?? createPlainRecipe();
      saved.value = recipe.value;
      version = next.recipe?.version ?? 0;
      past.value = [];
      future.value = [];
    },
    { immediate: true },
  );

  function change(next: Recipe, merge = false): void {
    if (isSameRecipe(next, recipe.value)) return;
    if (!merge || !isMerging) past.value = [...past.value.slice(-199), recipe.value];
    isMerging = merge;
    future.value = [];
    recipe.value = next;
    scheduleSave();
  }
  function undo(): void {
    const previous = past.value.at(-1);
    if (!previous) return;
    future.value = [...future.value, recipe.value];
    past.value = past.value.slice(0, -1);
    recipe.value = previous;
    isMerging = false;
    scheduleSave();
  }
  function redo(): void {
    const next = future.value.at(-1);
    if (!next) return;
    past.value = [...past.value, recipe.value];
    future.value = future.value.slice(0, -1);
    recipe.value = next;
    isMerging = false;
    scheduleSave();
  }
  function scheduleSave(): void {
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => void save(), SAVE_AFTER_MS);
  }
  function save(): Promise<void> {
    if (timer) clearTimeout(timer);
    timer = null;
    const id = takeId;
    const wanted = recipe.value;
    if (id === null) return Promise.resolve();
    saving = saving.then(async () => {
      if (isSameRecipe(wanted, saved.value) && version > 0) return;
      try {
        version = await work.saveRecipe(id, wanted, version);
        saved.value = wanted;
      } catch (error) {
        if (error instanceof CallError && error.fault.code === 'CHANGED_MEANWHILE') {
          await work.reload();
          version = take.value?.recipe?.version ?? version;
        }
        notices.tellFault(error);
      }
    });
    return saving;
  }
  onScopeDispose(() => void save());

  return {
    recipe,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    isSaved: computed(() => isSameRecipe(recipe.value, saved.value)),
    change,
    undo,
    redo,
    save,
  };
}
