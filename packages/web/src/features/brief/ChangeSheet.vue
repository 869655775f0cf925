<script setup lang="ts">
import type { ChangeView } from '@apodix/core';
import { formatInstant } from '../../composables/local-dates.ts';

/** What the teacher changed, until the student has seen it. */
defineProps<{ changes: readonly ChangeView[] }>();
const emit = defineEmits<{ seen: [] }>();
type Change = ChangeView['changes'][number];
const write = (words: string | null, as: Change['as']) =>
  words === null ? 'nothing' : as === 'instant' ? formatInstant(words) : words;
</script>

<template>
  <section class="sheet changes" role="status">
    <h2>Your teacher changed this</h2>
    <template v-for="each in changes" :key="each.at">
      <p class="note">Since {{ formatInstant(each.at) }}</p>
      <ul>
        <li v-for="change in each.changes" :key="change.what">
          <strong>{{ change.what }}</strong><template v-if="change.before !== null || change.after !== null"
            >: <s>{{ write(change.before, change.as) }}</s> → {{ write(change.after, change.as) }}</template
          >
        </li>
      </ul>
    </template>
    <div><v-btn class="plain" height="40" @click="emit('seen')">I have seen it</v-btn></div>
  </section>
</template>

<style scoped>
.changes {
  padding: 14px 16px;
  display: grid;
  gap: 6px;
  background: var(--saffron-soft);
  border-color: var(--saffron-line);
}
ul {
  margin: 0;
  padding-left: 18px;
}
s {
  color: var(--soft-ink);
}
</style>
