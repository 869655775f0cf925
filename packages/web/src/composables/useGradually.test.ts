import { expect, it } from 'vitest';
import { computed, ref } from 'vue';
import { useGradually } from './useGradually.ts';

it('shows the first, then more, and never more than there are', () => {
  const list = ref([1, 2, 3, 4, 5]);
  const { shown, rest, showMore } = useGradually(
    computed(() => list.value),
    2,
  );
  expect([shown.value, rest.value]).toEqual([[1, 2], 3]);
  showMore();
  showMore();
  expect([shown.value, rest.value]).toEqual([[1, 2, 3, 4, 5], 0]);
  list.value = [9];
  expect([shown.value, rest.value]).toEqual([[9], 0]);
});
