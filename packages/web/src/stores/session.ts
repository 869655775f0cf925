import type { Person } from '@apodix/core';
import { defineStore } from 'pinia';
import { readonly, ref } from 'vue';
import { callRoute } from '../api/call-route.ts';

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const person = ref<Person | null>(null);
  const isRead = ref(false);

  async function read(): Promise<Person | null> {
    if (!isRead.value) {
      person.value = (await callRoute('readSession')).person;
      isRead.value = true;
    }
    return person.value;
  }
  async function signIn(personId: string): Promise<void> {
    person.value = (await callRoute('signIn', { body: { personId } })).person;
    isRead.value = true;
  }
  async function signInAsGuest(): Promise<void> {
    person.value = (await callRoute('signInAsGuest')).person;
    isRead.value = true;
  }
  async function signOut(): Promise<void> {
    await callRoute('signOut');
    person.value = null;
  }
  return { person: readonly(person), read, signIn, signInAsGuest, signOut };
});
