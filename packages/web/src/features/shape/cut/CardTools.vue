<script setup lang="ts">
import {
  LEAST_CARD_US,
  MOST_CARD_LINES,
  MOST_CARD_SIGNS,
  MOST_CARD_US,
  type OpeningCard,
} from '@apodix/core';
import { ref, watch } from 'vue';

/** Words on a dark ground, shown before everything else. */
const props = defineProps<{
  card: OpeningCard | null;
  /** How it will look, as an address; null while that is not known. */
  picture: string | null;
  /** Whether the assignment asks for one. */
  isWished: boolean;
}>();
const emit = defineEmits<{ add: []; change: [changes: Partial<OpeningCard>]; remove: [] }>();
const lengths = [2, 3, 5, 8, 10].map((seconds) => seconds * 1e6);
const title = ref('');
const lines = ref('');
const readLines = () =>
  lines.value
    .split('\n')
    .map((line) => line.trim().slice(0, MOST_CARD_SIGNS))
    .filter((line) => line !== '')
    .slice(0, MOST_CARD_LINES);
watch(
  () => props.card,
  (card) => {
    if (!card) return;
    if (title.value.trim() !== card.title) title.value = card.title;
    if (readLines().join('\n') !== card.lines.join('\n')) lines.value = card.lines.join('\n');
  },
  { immediate: true },
);
function write(): void {
  const own = title.value.trim();
  emit('change', { ...(own === '' ? {} : { title: own }), lines: readLines() });
}
function setLength(event: Event): void {
  const us = Number((event.target as HTMLSelectElement).value);
  emit('change', { lengthUs: Math.max(LEAST_CARD_US, Math.min(MOST_CARD_US, us)) });
}
</script>

<template>
  <section>
    <h2>Opening card</h2>
    <template v-if="card">
      <img v-if="picture" class="picture" :src="picture" :alt="`${card.title}. ${card.lines.join('. ')}`" />
      <label
        ><span class="note">Title</span
        ><input v-model="title" class="field" :maxlength="MOST_CARD_SIGNS" @input="write"
      /></label>
      <p v-if="title.trim() === ''" class="wrong" role="alert">A card needs a title.</p>
      <label
        ><span class="note">Up to {{ MOST_CARD_LINES }} lines: names, course, date</span
        ><textarea v-model="lines" class="field" rows="3" @input="write"></textarea>
      </label>
      <label class="choice lasting"
        ><span>Shown for</span
        ><select :value="card.lengthUs" @change="setLength">
          <option v-for="each in lengths" :key="each" :value="each">{{ each / 1e6 }} s</option>
          <option v-if="!lengths.includes(card.lengthUs)" :value="card.lengthUs">
            {{ (card.lengthUs / 1e6).toFixed(1) }} s
          </option>
        </select></label
      >
      <p class="note">It comes first, in silence, and counts toward the length.</p>
      <v-btn class="quiet" @click="emit('remove')">No card</v-btn>
    </template>
    <template v-else>
      <p v-if="isWished" class="note">
        <strong>The assignment speaks of one.</strong>{{ ' ' }}Your name, the title and the date are filled
        in.
      </p>
      <p v-else class="note">A few seconds of words before everything else: title, names, course, date.</p>
      <v-btn class="quiet" @click="emit('add')">Add an opening card</v-btn>
    </template>
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
.picture {
  display: block;
  max-width: 100%;
  max-height: 200px;
  border-radius: 3px;
}
textarea {
  resize: vertical;
  line-height: 1.4;
}
label {
  display: block;
}
.wrong {
  color: var(--madder);
  font-size: 13px;
}
</style>
