import type { Limit } from '@apodix/core';
import { computed, ref, type ComputedRef } from 'vue';

export interface LimitEditor {
  readonly canUndo: ComputedRef<boolean>;
  /** What the last step was, in words. */
  readonly last: ComputedRef<string>;
  change(limits: Limit[], what: string): Promise<void>;
  undo(): Promise<void>;
}

/** Changes to a list of limits that are kept at once and can be taken back step by step. */
export function useLimitEditor(
  current: () => readonly Limit[],
  save: (limits: Limit[]) => Promise<void>,
): LimitEditor {
  const past = ref<{ limits: Limit[]; what: string }[]>([]);
  return {
    canUndo: computed(() => past.value.length > 0),
    last: computed(() => past.value.at(-1)?.what ?? ''),
    change: async (limits, what) => {
      const before = { limits: [...current()], what };
      await save(limits);
      past.value = [...past.value.slice(-99), before];
    },
    undo: async () => {
      const step = past.value.at(-1);
      if (!step) return;
      await save(step.limits);
      past.value = past.value.slice(0, -1);
    },
  };
}
