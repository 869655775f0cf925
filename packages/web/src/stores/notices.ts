import type { Fault } from '@apodix/core';
import { defineStore } from 'pinia';
import { computed, readonly, ref } from 'vue';
import { CallError } from '../api/call-route.ts';

/** What can be done about what a notice tells, for a while. */
export interface NoticeAction {
  readonly label: string;
  readonly act: () => Promise<unknown>;
}

export interface Notice {
  readonly id: number;
  readonly at: Date;
  readonly message: string;
  readonly next: string;
  readonly isFault: boolean;
  readonly action: NoticeAction | null;
}

/** Long enough to read slowly; a fault stays until it is closed. */
const SHOWN_MS = 10_000;
const WITH_ACTION_MS = 30_000;
const MOST_SHOWN = 3;
const MOST_KEPT = 50;

/**
 * Short messages at the foot of the page: what went wrong and what to do, or what was done and how to undo
 * it. All of them stay in a list.
 */
export const useNotices = defineStore('notices', () => {
  const kept = ref<readonly Notice[]>([]);
  const shownIds = ref<readonly number[]>([]);
  const timers = new Map<number, ReturnType<typeof setTimeout>>();
  let nextId = 1;

  function show(notice: Omit<Notice, 'id' | 'at'>): void {
    const id = nextId++;
    kept.value = [{ ...notice, id, at: new Date() }, ...kept.value].slice(0, MOST_KEPT);
    shownIds.value = [...shownIds.value, id].slice(-MOST_SHOWN);
    resume(id);
  }
  function add(message: string, next = '', isFault = false): void {
    show({ message, next, isFault, action: null });
  }
  /** Tells what was done, with a way to undo it. */
  function addWithUndo(message: string, undo: () => Promise<unknown>): void {
    const action = { label: 'Undo', act: undo };
    show({ message, next: 'It can be brought back until tomorrow.', isFault: false, action });
  }
  /** Tells what has to be decided; it stays until it is closed or answered. */
  function addChoice(message: string, next: string, label: string, act: () => Promise<unknown>): void {
    show({ message, next, isFault: true, action: { label, act } });
  }
  function dismiss(id: number): void {
    pause(id);
    shownIds.value = shownIds.value.filter((each) => each !== id);
  }
  /** While the pointer or the focus is on it, it stays. */
  function pause(id: number): void {
    clearTimeout(timers.get(id));
    timers.delete(id);
  }
  function resume(id: number): void {
    const notice = kept.value.find((each) => each.id === id);
    pause(id);
    if (!notice || notice.isFault) return;
    timers.set(
      id,
      setTimeout(() => dismiss(id), notice.action ? WITH_ACTION_MS : SHOWN_MS),
    );
  }
  /** Does what a notice offers, once. */
  async function act(notice: Notice): Promise<void> {
    if (!notice.action) return;
    const { action } = notice;
    kept.value = kept.value.map((each) => (each.id === notice.id ? { ...each, action: null } : each));
    dismiss(notice.id);
    await action.act().catch(tellFault);
  }
  /** Shows what a failed call told; anything else is passed on. */
  function tellFault(error: unknown): void {
    if (!(error instanceof CallError)) throw error;
    const fault: Fault = error.fault;
    add(fault.detail ? `${fault.message} ${fault.detail}` : fault.message, fault.next, true);
  }
  function clear(): void {
    for (const id of shownIds.value) dismiss(id);
    kept.value = [];
  }
  const shown = computed(() => kept.value.filter((notice) => shownIds.value.includes(notice.id)).reverse());
  return {
    kept: readonly(kept),
    shown,
    add,
    addWithUndo,
    addChoice,
    act,
    dismiss,
    pause,
    resume,
    tellFault,
    clear,
  };
});
