<script setup lang="ts">
import type { Refusal } from './camera/explain-refusal.ts';

/** Why there is no camera, and everything that can be done instead. */
defineProps<{ refusal: Refusal }>();
const emit = defineEmits<{ again: []; practise: []; bringIn: []; phone: [] }>();
</script>

<template>
  <div class="refused" role="alert">
    <h2>{{ refusal.title }}</h2>
    <p>{{ refusal.what }}</p>
    <div class="acts">
      <v-btn class="go" color="primary" @click="emit('again')">Try again</v-btn>
      <v-btn class="quiet" @click="emit('bringIn')">Bring in a file</v-btn>
      <v-btn class="quiet" @click="emit('phone')">Send it from a phone</v-btn>
      <v-btn class="quiet" @click="emit('practise')">Try the practice camera</v-btn>
    </div>
  </div>
</template>

<style scoped>
.refused {
  background: var(--sheet);
  border-radius: 6px;
  padding: 24px 28px;
  max-width: 520px;
  display: grid;
  gap: 10px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 6px;
}
</style>
