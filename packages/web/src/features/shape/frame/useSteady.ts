import { planTakeSteady, type MediaFacts, type TakeSeries, type TakeView } from '@apodix/core';
import { computed, ref, watch, type ComputedRef } from 'vue';
import { useNotices } from '../../../stores/notices.ts';
import { useWork } from '../../../stores/work.ts';
import type { RecipeEditor } from '../useRecipeEditor.ts';

/** Strong enough for a hand, weak enough to follow somebody. */
const FIRST_STRENGTH = 0.4;
const WAITING = { id: null, stage: 'Waiting for a free place', share: 0, secondsLeft: null };

/** Taking the shaking of a hand out: measured when it is wished for the first time. */
export function useSteady(
  editor: RecipeEditor,
  take: ComputedRef<TakeView | null>,
  facts: ComputedRef<Pick<MediaFacts, 'video'> | null>,
  series: ComputedRef<TakeSeries | null>,
) {
  const work = useWork();
  const notices = useNotices();
  /** The take that is to be steadied as soon as its shaking is known. */
  const wishedId = ref<string | null>(null);
  const job = computed(() => (take.value ? work.findJob(take.value.id, 'shake') : null));
  const isKnown = computed(() => Boolean(series.value?.shake));
  const set = (steady: number | null, isDragging = false) => {
    const { recipe } = editor;
    editor.change({ ...recipe.value, picture: { ...recipe.value.picture, steady } }, isDragging);
  };
  watch([isKnown, () => take.value?.id], () => {
    if (wishedId.value === null) return;
    const isMeant = wishedId.value === take.value?.id;
    if (isMeant && !isKnown.value) return;
    wishedId.value = null;
    if (isMeant) set(FIRST_STRENGTH);
  });
  const course = computed(() =>
    facts.value && series.value ? planTakeSteady(facts.value, series.value, editor.recipe.value) : null,
  );
  return {
    course,
    strength: computed(() => editor.recipe.value.picture.steady),
    /** How much of each edge is lost, in shares; null where it is not steadied. */
    lost: computed(() => (course.value ? 1 - course.value.kept : null)),
    /** How far measuring has come; null while nothing is measured. */
    measuring: computed(() => job.value ?? (wishedId.value === null ? null : WAITING)),
    set,
    start: async () => {
      const own = take.value;
      if (!own) return;
      if (isKnown.value) return set(FIRST_STRENGTH);
      wishedId.value = own.id;
      try {
        await work.measureShake(own.id);
      } catch (error) {
        wishedId.value = null;
        notices.tellFault(error);
      }
    },
    stop: async () => {
      wishedId.value = null;
      if (job.value) await work.cancel(job.value.id);
    },
  };
}
