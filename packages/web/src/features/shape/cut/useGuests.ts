import type { Recipe } from '@apodix/core';
import { computed, reactive, type Ref } from 'vue';
import { useWork } from '../../../stores/work.ts';
import type { Playable } from '../useFramePlayer.ts';
import { listJoinedIds } from './joined-parts.ts';

/** What plays the other takes whose parts a recipe joins. */
export function useGuests(recipe: Ref<Recipe>) {
  const work = useWork();
  const elements = reactive(new Map<string, Playable>());
  return {
    list: computed(() =>
      listJoinedIds(recipe.value).flatMap((id) => {
        const url = work.takes.find((each) => each.id === id)?.proxyUrl;
        return url ? [{ id, url }] : [];
      }),
    ),
    count: computed(() => elements.size),
    /** An element once it is there; null takes it away. */
    attach: (id: string, element: Playable | null) => {
      if (element) elements.set(id, element);
      else elements.delete(id);
    },
    of: (source: number): Playable | null => elements.get(recipe.value.sources[source]?.takeId ?? '') ?? null,
  };
}
