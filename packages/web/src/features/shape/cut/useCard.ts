import { frameSize, isCardWished, type OpeningCard, type TakeView } from '@apodix/core';
import { watchDebounced } from '@vueuse/core';
import { computed, ref, type ComputedRef } from 'vue';
import { findLocale } from '../../../composables/local-dates.ts';
import { useWork } from '../../../stores/work.ts';
import type { RecipeEditor } from '../useRecipeEditor.ts';

const LENGTH_US = 3_000_000;
/** Its picture on screen is so wide, on either edge. */
const SHOWN_PX = 640;
/** A letter more is not drawn before the next one is typed. */
const PAUSE_MS = 200;

/** The opening card of a take: what it says, and how it will look. */
export function useCard(editor: RecipeEditor, take: ComputedRef<TakeView | null>) {
  const work = useWork();
  const card = computed(() => editor.recipe.value.card);
  const size = computed(() => {
    const video = take.value?.facts?.video;
    if (!video) return null;
    const { widthPx, heightPx } = frameSize(video, editor.recipe.value.picture);
    const scale = SHOWN_PX / Math.max(widthPx, heightPx);
    return { widthPx: Math.round(widthPx * scale), heightPx: Math.round(heightPx * scale) };
  });
  const picture = ref<string | null>(null);
  let asked = 0;
  async function draw(): Promise<void> {
    const [own, takeId, number] = [card.value, take.value?.id, (asked += 1)];
    if (!own || !size.value || !takeId) return void (picture.value = null);
    try {
      const svg = await work.drawCard(takeId, own, size.value);
      // A later wish may have been answered before.
      if (number === asked) picture.value = `data:image/svg+xml,${encodeURIComponent(svg)}`;
    } catch {
      // Without its picture the card can still be written.
      if (number === asked) picture.value = null;
    }
  }
  watchDebounced([card, size], draw, { debounce: PAUSE_MS, immediate: true });
  const set = (next: OpeningCard | null) => editor.change({ ...editor.recipe.value, card: next });

  return {
    picture,
    isWished: computed(() => isCardWished(work.assignment?.instructions ?? '')),
    /** With what is known already: the title of the assignment, the name, the course and the day. */
    add: () => {
      const { assignment } = work;
      const today = new Intl.DateTimeFormat(findLocale(), { dateStyle: 'long' }).format(new Date());
      const lines = [assignment?.person.displayName, assignment?.courseTitle, today];
      set({
        title: assignment?.title.slice(0, 90) || 'Title',
        lines: lines.flatMap((line) => (line ? [line.slice(0, 90)] : [])),
        lengthUs: LENGTH_US,
      });
    },
    change: (changes: Partial<OpeningCard>) => card.value && set({ ...card.value, ...changes }),
    remove: () => set(null),
  };
}
