import { computed, ref, type ComputedRef } from 'vue';

export interface Gradually<T> {
  readonly shown: ComputedRef<readonly T[]>;
  /** How many are not shown yet. */
  readonly rest: ComputedRef<number>;
  showMore(): void;
}

/** A long list of which only so much is drawn at first, and more where the person goes on to it. */
export function useGradually<T>(list: ComputedRef<readonly T[]>, first: number, step = first): Gradually<T> {
  const count = ref(first);
  return {
    shown: computed(() => list.value.slice(0, count.value)),
    rest: computed(() => Math.max(0, list.value.length - count.value)),
    showMore: () => (count.value += step),
  };
}
