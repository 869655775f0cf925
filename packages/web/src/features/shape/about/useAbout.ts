import { About, MOST_ABOUT_SIGNS, type TakeView } from '@apodix/core';
import { computed, type ComputedRef } from 'vue';
import { useWork } from '../../../stores/work.ts';
import type { RecipeEditor } from '../useRecipeEditor.ts';

/** What a photograph's file tells about the piece. */
export function useAbout(editor: RecipeEditor, take: ComputedRef<TakeView | null>) {
  const work = useWork();
  const set = (about: About | null) =>
    editor.change({ ...editor.recipe.value, picture: { ...editor.recipe.value.picture, about } });
  return {
    isPossible: computed(() => Boolean(take.value?.facts?.photo)),
    about: computed(() => editor.recipe.value.picture.about),
    /** With what is known already: the title of the assignment, and who hands it in. */
    add: () => {
      const { assignment } = work;
      const artist = assignment?.person.displayName.slice(0, MOST_ABOUT_SIGNS) ?? '';
      set({
        title: assignment?.title.slice(0, MOST_ABOUT_SIGNS) || 'Untitled',
        artist,
        rights: artist ? `© ${new Date().getFullYear()} ${artist}`.slice(0, MOST_ABOUT_SIGNS) : '',
      });
    },
    /** Where nothing is left to be told, the last is kept until it is taken away. */
    change: (changes: Partial<About>) => {
      const parsed = About.safeParse({ ...editor.recipe.value.picture.about, ...changes });
      if (parsed.success) set(parsed.data);
    },
    remove: () => set(null),
  };
}
