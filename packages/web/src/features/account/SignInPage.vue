<script setup lang="ts">
import type { Person } from '@apodix/core';
import { onMounted, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { callRoute } from '../../api/call-route.ts';
import BarsMark from '../../components/BarsMark.vue';
import CardScan from '../cards/CardScan.vue';
import { useCardSignIn } from '../cards/useCardSignIn.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

const isScanning = ref(false);
const { onCard } = useCardSignIn(() => '/today');
const people = ref<readonly Person[]>([]);
const isLoaded = ref(false);
const session = useSession();
const notices = useNotices();
const route = useRoute();
const router = useRouter();

onMounted(async () => {
  try {
    people.value = (await callRoute('listPeople')).people;
  } catch (error) {
    notices.tellFault(error);
  } finally {
    isLoaded.value = true;
  }
});

async function choose(person: Person): Promise<void> {
  try {
    await session.signIn(person.id);
    const next =
      typeof route.query.next === 'string' &&
      route.query.next.startsWith('/') &&
      !route.query.next.startsWith('//')
        ? route.query.next
        : '/today';
    await router.push(next);
  } catch (error) {
    notices.tellFault(error);
  }
}
</script>

<template>
  <main id="main" class="page">
    <div class="brand"><BarsMark :size="34" /> <span>Apodix</span></div>
    <h1>From your recording to a file that fits, and handed in.</h1>
    <section class="sheet" aria-labelledby="who">
      <h2 id="who">Who are you?</h2>
      <p class="note">These people and their college are made up, so that you can try everything.</p>
      <ul>
        <li v-for="person in people" :key="person.id">
          <button type="button" @click="choose(person)">
            <span class="initials" aria-hidden="true">{{ person.firstName[0] }}{{ person.surname[0] }}</span
            ><strong>{{ person.displayName }}</strong
            ><span class="note">{{ person.role }}</span>
          </button>
        </li>
      </ul>
      <p v-if="isLoaded && people.length === 0" class="note">
        There is nobody here yet. Use Quick fit, or start Apodix with its demo data.
      </p>
    </section>
    <section class="sheet" aria-labelledby="card">
      <h2 id="card">Have you got a card?</h2>
      <CardScan v-if="isScanning" @card="onCard" @close="isScanning = false" />
      <div v-else><v-btn class="quiet" @click="isScanning = true">Show it to the camera</v-btn></div>
    </section>
    <p>
      Just one file to fix? <router-link :to="{ name: 'quick-fit' }">Quick fit</router-link> needs no account.
    </p>
  </main>
</template>

<style scoped>
.page {
  max-width: 560px;
  margin: 8vh auto;
  padding: 0 16px;
  display: grid;
  gap: 22px;
}
.brand {
  display: flex;
  align-items: center;
  gap: 14px;
  font: 700 34px var(--display);
}
h1 {
  font-size: 24px;
  text-wrap: balance;
}
.sheet {
  padding: 20px;
  display: grid;
  gap: 8px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 6px 0 0;
  display: grid;
  gap: 8px;
}
li button {
  display: flex;
  align-items: center;
  gap: 14px;
  width: 100%;
  min-height: 56px;
  padding: 8px 14px;
  border: 1px solid var(--line);
  border-radius: 6px;
  text-align: left;
}
li button:hover {
  border-color: var(--ink);
}
li .note {
  margin-left: auto;
}
.initials {
  width: 36px;
  height: 36px;
  border-radius: 50%;
  background: var(--track);
  display: grid;
  place-items: center;
  font-weight: 700;
  font-size: 13px;
}
</style>
