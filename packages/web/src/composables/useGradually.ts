import { computed, onScopeDispose, ref, watch, type ComputedRef } from 'vue';

const FIRST = 24;
const STEP = 60;

/**
 * A long list, its first part at once and the rest frame by frame, so that the page answers before all of it
 * is drawn.
 */
export function useGradually<T>(list: ComputedRef<readonly T[]>): ComputedRef<readonly T[]> {
  const count = ref(FIRST);
  let frame = 0;
  function drawMore(): void {
    if (count.value >= list.value.length) return;
    frame = requestAnimationFrame(() => {
      count.value += STEP;
      drawMore();
    });
  }
  watch(() => list.value.length, drawMore, { immediate: true });
  onScopeDispose(() => cancelAnimationFrame(frame));
  return computed(() => list.value.slice(0, count.value));
}
