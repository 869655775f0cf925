<script setup lang="ts">
import type { FitChoice } from '@apodix/core';
import { ref } from 'vue';

/** Lines and bytes of one's own choice. */
defineProps<{ lines: readonly number[] }>();
const emit = defineEmits<{ choose: [choice: FitChoice | null] }>();
const chosenLines = ref<number | null>(null);
const megabytes = ref<number | null>(null);
const LEAST_BYTES = 50_000;

function choose(): void {
  const wanted = Number(megabytes.value);
  const maxBytes = wanted > 0 ? Math.max(LEAST_BYTES, Math.round(wanted * 1e6)) : null;
  const isOpen = maxBytes === null && chosenLines.value === null;
  emit('choose', isOpen ? null : { lines: chosenLines.value, rateDivisor: 1, maxBytes, soundBps: null });
}
</script>

<template>
  <details class="own">
    <summary>Choose lines and size yourself</summary>
    <div class="fields">
      <v-select
        v-model="chosenLines"
        :items="[
          { title: 'as is best', value: null },
          ...lines.map((each) => ({ title: `${each} lines`, value: each })),
        ]"
        label="Lines"
      />
      <v-text-field v-model="megabytes" type="number" min="0.05" step="0.1" label="At most, MB" />
      <v-btn class="plain" height="40" @click="choose">Plan it</v-btn>
    </div>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  min-height: 40px;
  align-content: center;
  text-decoration: underline;
  font-size: 14px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 10px;
  align-items: center;
  padding-top: 6px;
}
@media (max-width: 1000px) {
  .fields {
    grid-template-columns: 1fr;
  }
}
</style>
