<script setup lang="ts">
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useTheme } from 'vuetify';
import BarsMark from '../components/BarsMark.vue';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import KeysDialog from './KeysDialog.vue';
import MessagesDialog from './MessagesDialog.vue';

const session = useSession();
const router = useRouter();
const theme = useTheme();
const notices = useNotices();
const [areKeysOpen, areMessagesOpen] = [ref(false), ref(false)];
const initials = computed(() =>
  session.person ? `${session.person.firstName[0] ?? 'G'}${session.person.surname[0] ?? ''}` : '',
);
const isDark = computed(() => theme.current.value.dark);

async function signOut(): Promise<void> {
  try {
    await session.signOut();
    notices.clear();
    await router.push({ name: 'sign-in' });
  } catch (error) {
    notices.tellFault(error);
  }
}
</script>

<template>
  <header class="bar">
    <router-link class="brand" :to="{ name: 'today' }"><BarsMark /> Apodix</router-link>
    <nav aria-label="Places">
      <router-link :to="{ name: 'today' }">Today</router-link>
      <router-link v-if="session.person" :to="{ name: 'my-takes' }">My takes</router-link>
      <router-link :to="{ name: 'quick-fit' }">Quick fit</router-link>
    </nav>
    <div class="end">
      <v-menu v-if="session.person">
        <template #activator="{ props }">
          <button type="button" class="person" v-bind="props">
            <span class="name">{{ session.person.displayName }}</span><span
              class="initials"
              aria-hidden="true"
              >{{ initials }}</span
            >
          </button>
        </template>
        <v-list>
          <v-list-item
            :title="isDark ? 'Light colours' : 'Dark colours'"
            @click="theme.change(isDark ? 'light' : 'dark')"
          />
          <v-list-item
            :title="notices.kept.length ? `Messages (${notices.kept.length})` : 'Messages'"
            @click="areMessagesOpen = true"
          />
          <v-list-item
            v-if="session.person.role !== 'guest'"
            title="Cards for shared devices"
            :to="{ name: 'cards' }"
          />
          <v-list-item title="Keys" @click="areKeysOpen = true" />
          <v-list-item title="Sign out" @click="signOut" />
        </v-list>
      </v-menu>
      <router-link v-else class="sign" :to="{ name: 'sign-in' }">Sign in</router-link>
    </div>
    <KeysDialog v-model="areKeysOpen" />
    <MessagesDialog v-model="areMessagesOpen" />
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: stretch;
  height: 56px;
  background: var(--sheet);
  border-bottom: 1px solid var(--line);
  padding: 0 20px;
  gap: 20px;
}
.brand {
  display: flex;
  align-items: center;
  gap: 10px;
  font: 700 22px var(--display);
  text-decoration: none;
}
nav {
  display: flex;
}
nav a {
  display: flex;
  align-items: center;
  padding: 0 22px;
  font-weight: 700;
  color: var(--soft-ink);
  text-decoration: none;
  border-bottom: 3px solid transparent;
}
nav a.router-link-active {
  color: var(--ink);
  border-color: rgb(var(--v-theme-primary));
}
.end {
  margin-left: auto;
  display: flex;
  align-items: center;
}
.person {
  display: flex;
  align-items: center;
  gap: 10px;
  font-weight: 700;
  min-height: 40px;
}
.initials {
  width: 32px;
  height: 32px;
  border-radius: 50%;
  background: var(--track);
  display: grid;
  place-items: center;
  font-size: 13px;
}
.sign {
  font-weight: 700;
}
@media (max-width: 600px) {
  .bar {
    padding: 0 12px;
    gap: 6px;
  }
  nav a {
    padding: 0 10px;
  }
  .name {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
    white-space: nowrap;
  }
  .brand {
    font-size: 19px;
  }
}
</style>
