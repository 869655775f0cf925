import { defineStore } from 'pinia';
import { computed, readonly, ref } from 'vue';
import { z } from 'zod';
import { keyActions, type KeyAction } from './key-actions.ts';

const STORED = 'apodix.keys';
const Stored = z.object({ isOn: z.boolean(), changed: z.record(z.string(), z.string().min(1).max(20)) });
const ALL = Object.keys(keyActions) as KeyAction[];

/**
 * Single keys that do something: they can be switched off and changed (WCAG 2.2, 2.1.4), for this browser.
 */
export const useKeySettings = defineStore('keys', () => {
  const kept = readStored();
  const isOn = ref(kept.isOn);
  const changed = ref<Readonly<Partial<Record<KeyAction, string>>>>(kept.changed);
  const keyOf = (action: KeyAction) => changed.value[action] ?? keyActions[action].key;

  function keep(): void {
    localStorage.setItem(STORED, JSON.stringify({ isOn: isOn.value, changed: changed.value }));
  }
  function setOn(next: boolean): void {
    isOn.value = next;
    keep();
  }
  /** Gives an action another key; the action that had it before gets the one that becomes free. */
  function change(action: KeyAction, key: string): void {
    const other = ALL.find((each) => each !== action && keyOf(each) === key);
    changed.value = {
      ...changed.value,
      ...(other ? { [other]: keyOf(action) } : {}),
      [action]: key,
    };
    keep();
  }
  function reset(): void {
    changed.value = {};
    keep();
  }
  /** The action of a key; null where it has none, or single keys are off. */
  const actionOf = (key: string): KeyAction | null =>
    isOn.value ? (ALL.find((action) => keyOf(action) === key) ?? null) : null;
  return {
    isOn: readonly(isOn),
    isChanged: computed(() => Object.keys(changed.value).length > 0),
    keyOf,
    actionOf,
    setOn,
    change,
    reset,
  };
});

function readStored(): z.infer<typeof Stored> {
  try {
    return Stored.parse(JSON.parse(localStorage.getItem(STORED) ?? ''));
  } catch {
    return { isOn: true, changed: {} };
  }
}
