import type { AnswerOf, Person } from '@apodix/core';
import { defineStore } from 'pinia';
import { readonly, ref } from 'vue';
import { callRoute } from '../api/call-route.ts';
import { queryClient } from '../api/query-client.ts';
import { setSchoolLocale } from '../composables/local-dates.ts';
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
    if (next) live.follow(next);
    return next;
  }
  function accept(session: AnswerOf<'readSession'>): Person | null {
    setSchoolLocale(session.locale);
    return become(session.person);
  }
  /** Throws a `CallError` where nobody can tell. */
  async function read(): Promise<Person | null> {
    return isRead.value ? person.value : accept(await callRoute('readSession'));
  }
  async function signIn(personId: string): Promise<void> {
    accept(await callRoute('signIn', { body: { personId } }));
  }
  /** Whose card it is; says whether that is somebody else than before. */
  async function signInByCard(code: string): Promise<boolean> {
    const before = person.value?.id;
    return accept(await callRoute('signInByCard', { body: { code } }))?.id !== before;
  }
  async function signInAsGuest(): Promise<void> {
    accept(await callRoute('signInAsGuest'));
  }
  async function signOut(): Promise<void> {
    await callRoute('signOut');
    become(null);
  }
  /** The server knows of nobody any more: the session has run out, or ended in another tab. */
  function forget(): void {
    become(null);
    isRead.value = false;
  }
  return { person: readonly(person), read, signIn, signInByCard, signInAsGuest, signOut, forget };
});
