import type { Fault } from '@apodix/core';
import { defineStore } from 'pinia';
import { readonly, ref } from 'vue';
import { CallError } from '../api/call-route.ts';

export interface Notice {
  readonly id: number;
  readonly message: string;
  readonly next: string;
  readonly isFault: boolean;
}

/** Short messages at the foot of the page: what went wrong and what to do, or what was done. */
export const useNotices = defineStore('notices', () => {
  const notices = ref<Notice[]>([]);
  let nextId = 1;

  function add(message: string, next = '', isFault = false): void {
    const id = nextId++;
    notices.value = [...notices.value.slice(-2), { id, message, next, isFault }];
    setTimeout(() => dismiss(id), isFault ? 12_000 : 5000);
  }
  function dismiss(id: number): void {
    notices.value = notices.value.filter((notice) => notice.id !== id);
  }
  /** Shows what a failed call told; anything else is passed on. */
  function tellFault(error: unknown): void {
    if (!(error instanceof CallError)) throw error;
    const fault: Fault = error.fault;
    add(fault.detail ? `${fault.message} ${fault.detail}` : fault.message, fault.next, true);
  }
  return { notices: readonly(notices), add, dismiss, tellFault };
});
