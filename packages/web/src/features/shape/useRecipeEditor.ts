import { createPlainRecipe, isSameRecipe, type Recipe, type TakeView } from '@apodix/core';
import {
  computed,
  onScopeDispose,
  shallowReactive,
  watch,
  type ComputedRef,
  type ShallowReactive,
} from 'vue';
import { CallError } from '../../api/call-route.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';

export interface RecipeEditor {
  readonly recipe: ComputedRef<Recipe>;
  readonly canUndo: ComputedRef<boolean>;
  readonly canRedo: ComputedRef<boolean>;
  readonly isSaved: ComputedRef<boolean>;
  /** Changes the recipe; `merge` joins a run of changes (a drag) into one step. */
  change(next: Recipe, merge?: boolean): void;
  undo(): void;
  redo(): void;
  /** Whether what is on screen is kept now; where it could not be, that has been told. */
  save(): Promise<boolean>;
}

/** The editing of one take. It goes on being that take's, whichever is on screen by then. */
interface Edit {
  readonly takeId: string;
  recipe: Recipe;
  past: readonly Recipe[];
  future: readonly Recipe[];
  saved: Recipe;
  version: number;
  isMerging: boolean;
  timer: ReturnType<typeof setTimeout> | null;
  saving: Promise<boolean>;
  /** How many savings are under way: what was kept last may not be what is kept next. */
  underWay: number;
}

const SAVE_AFTER_MS = 600;
const MOST_STEPS = 200;

/**
 * Edits takes' recipes, each with its own undo and redo, and saves every settled version. Switching to
 * another take and leaving the page save at once.
 */
export function useRecipeEditor(take: ComputedRef<TakeView | null>): RecipeEditor {
  const work = useWork();
  const notices = useNotices();
  const edits = new Map<string, ShallowReactive<Edit>>();
  const none = beginEdit('', null);
  const current = computed(() => (take.value ? findEdit(take.value) : none));

  function findEdit(view: TakeView): ShallowReactive<Edit> {
    const known = edits.get(view.id) ?? beginEdit(view.id, view.recipe);
    edits.set(view.id, known);
    return known;
  }

  watch(
    take,
    (next, last) => {
      if (last && last.id !== next?.id) void save(findEdit(last));
      if (next) adopt(findEdit(next), next.recipe);
    },
    { immediate: true },
  );

  /** What was kept elsewhere meanwhile holds, as long as nothing is open here. */
  function adopt(edit: Edit, kept: TakeView['recipe']): void {
    if (!kept || kept.version <= edit.version || !isKept(edit)) return;
    if (!isSameRecipe(kept.recipe, edit.recipe)) edit.past = [...edit.past, edit.recipe];
    Object.assign(edit, { recipe: kept.recipe, saved: kept.recipe, version: kept.version });
  }
  function change(next: Recipe, merge = false): void {
    const edit = current.value;
    if (edit === none) return;
    if (isSameRecipe(next, edit.recipe)) {
      // A run of changes ends where it was: the next one is a step of its own.
      if (!merge) edit.isMerging = false;
      return;
    }
    if (!merge || !edit.isMerging) edit.past = [...edit.past, edit.recipe].slice(-MOST_STEPS);
    edit.isMerging = merge;
    edit.future = [];
    edit.recipe = next;
    scheduleSave(edit);
  }
  function undo(): void {
    const edit = current.value;
    const previous = edit.past.at(-1);
    if (!previous) return;
    edit.future = [...edit.future, edit.recipe];
    edit.past = edit.past.slice(0, -1);
    settle(edit, previous);
  }
  function redo(): void {
    const edit = current.value;
    const next = edit.future.at(-1);
    if (!next) return;
    edit.past = [...edit.past, edit.recipe];
    edit.future = edit.future.slice(0, -1);
    settle(edit, next);
  }
  function settle(edit: Edit, recipe: Recipe): void {
    edit.recipe = recipe;
    edit.isMerging = false;
    scheduleSave(edit);
  }
  function scheduleSave(edit: Edit): void {
    if (edit.timer) clearTimeout(edit.timer);
    edit.timer = setTimeout(() => void save(edit), SAVE_AFTER_MS);
  }
  /** One after another for each take, always under that take's own version. */
  function save(edit: Edit): Promise<boolean> {
    if (edit.timer) clearTimeout(edit.timer);
    edit.timer = null;
    if (edit === none) return Promise.resolve(true);
    edit.underWay += 1;
    edit.saving = edit.saving.then(() => keep(edit)).finally(() => (edit.underWay -= 1));
    return edit.saving;
  }
  async function keep(edit: Edit): Promise<boolean> {
    const wanted = edit.recipe;
    if (isSameRecipe(wanted, edit.saved) && edit.version > 0) return true;
    try {
      edit.version = await work.saveRecipe(edit.takeId, wanted, edit.version);
      edit.saved = wanted;
      return true;
    } catch (error) {
      if (error instanceof CallError && error.fault.code === 'CHANGED_MEANWHILE') {
        await work.reload();
        const kept = work.takes.find((each) => each.id === edit.takeId)?.recipe;
        edit.version = kept?.version ?? edit.version;
        edit.saved = kept?.recipe ?? edit.saved;
        if (kept) {
          notices.addChoice(
            'This take was shaped in another window too.',
            'What you see here is kept with your next change; both versions are kept.',
            'Take the other version',
            () => Promise.resolve(takeOther(edit, kept.recipe)),
          );
          return false;
        }
      }
      notices.tellFault(error);
      return false;
    }
  }
  /** What another window kept takes the place of what is here; undo brings this back. */
  function takeOther(edit: Edit, recipe: Recipe): void {
    if (!isSameRecipe(edit.recipe, recipe)) edit.past = [...edit.past, edit.recipe].slice(-MOST_STEPS);
    edit.future = [];
    settle(edit, recipe);
  }
  onScopeDispose(() => edits.forEach((edit) => void save(edit)));

  return {
    recipe: computed(() => current.value.recipe),
    canUndo: computed(() => current.value.past.length > 0),
    canRedo: computed(() => current.value.future.length > 0),
    isSaved: computed(() => isKept(current.value)),
    change,
    undo,
    redo,
    save: () => save(current.value),
  };
}

function beginEdit(takeId: string, kept: TakeView['recipe']): ShallowReactive<Edit> {
  const recipe = kept?.recipe ?? createPlainRecipe();
  return shallowReactive<Edit>({
    takeId,
    recipe,
    past: [],
    future: [],
    saved: recipe,
    version: kept?.version ?? 0,
    isMerging: false,
    timer: null,
    saving: Promise.resolve(true),
    underWay: 0,
  });
}

/** Whether what is on screen is what is kept, with nothing else on its way there. */
function isKept(edit: Edit): boolean {
  return edit.underWay === 0 && isSameRecipe(edit.recipe, edit.saved);
}
