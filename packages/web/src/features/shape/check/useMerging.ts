import { cleanDisplayName, type TakeView } from '@apodix/core';
import { computed, ref, watch, type ComputedRef } from 'vue';
import { useNotices } from '../../../stores/notices.ts';
import { useWork } from '../../../stores/work.ts';

const MOST_OTHERS = 2;

/** Other photographs of the same piece, the lamp moved between them, as one without the lamp in it. */
export function useMerging(take: ComputedRef<TakeView | null>) {
  const [work, notices] = [useWork(), useNotices()];
  const chosen = ref<readonly string[]>([]);
  const isMerging = ref(false);
  watch(
    () => take.value?.id,
    () => (chosen.value = []),
  );
  return {
    chosen,
    isMerging,
    isFull: computed(() => chosen.value.length >= MOST_OTHERS),
    others: computed(() =>
      work.takes
        .filter(({ id, facts }) => id !== take.value?.id && Boolean(facts?.photo))
        .map(({ id, name, posterUrl }) => ({ id, name: cleanDisplayName(name, 26), posterUrl })),
    ),
    choose: (id: string) => {
      const without = chosen.value.filter((each) => each !== id);
      chosen.value = without.length < chosen.value.length ? without : [...without, id].slice(-MOST_OTHERS);
    },
    merge: async () => {
      const own = take.value;
      if (!own || chosen.value.length === 0 || isMerging.value) return;
      isMerging.value = true;
      try {
        const share = await work.mergeShots(own.id, chosen.value);
        chosen.value = [];
        notices.add(
          share < 0.0005
            ? 'They are merged, and stand among your takes. No lamp was seen in the first one.'
            : `Merged: ${(share * 100).toFixed(1)} % came from the other shots. It stands among your takes.`,
        );
      } catch (error) {
        notices.tellFault(error);
      } finally {
        isMerging.value = false;
      }
    },
  };
}
