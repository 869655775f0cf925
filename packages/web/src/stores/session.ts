import type { Person } from '@apodix/core';
import { defineStore } from 'pinia';
import { readonly, ref } from 'vue';
import { callRoute } from '../api/call-route.ts';
import { queryClient } from '../api/query-client.ts';
import { useLive } from './live.ts';

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const person = ref<Person | null>(null);
  const isRead = ref(false);

  /** What was read for somebody else is forgotten. */
  function become(next: Person | null): Person | null {
    const live = useLive();
    if (person.value?.id !== next?.id) {
      queryClient.clear();
      live.leave();
    }
    person.value = next;
    isRead.value = true;
    if (next) live.follow();
    return next;
  }
  /** Throws a `CallError` where nobody can tell. */
  async function read(): Promise<Person | null> {
    return isRead.value ? person.value : become((await callRoute('readSession')).person);
  }
  async function signIn(personId: string): Promise<void> {
    become((await callRoute('signIn', { body: { personId } })).person);
  }
  async function signInAsGuest(): Promise<void> {
    become((await callRoute('signInAsGuest')).person);
  }
  async function signOut(): Promise<void> {
    await callRoute('signOut');
    become(null);
  }
  return { person: readonly(person), read, signIn, signInAsGuest, signOut };
});
