<script setup lang="ts">
import { computed } from 'vue';
import { CallError } from '../api/call-route.ts';

/** What is told in place of something that could not be read: never that nothing is there. */
const props = defineProps<{ fault: unknown }>();
const emit = defineEmits<{ again: [] }>();
const words = computed(() =>
  props.fault instanceof CallError
    ? props.fault.fault
    : { message: 'This could not be read.', next: 'Try again.' },
);
</script>

<template>
  <div class="sheet away" role="alert">
    <h2>{{ words.message }}</h2>
    <p>{{ words.next }}</p>
    <div><v-btn class="plain" @click="emit('again')">Try again</v-btn></div>
  </div>
</template>

<style scoped>
.away {
  padding: 20px;
  display: grid;
  gap: 8px;
  max-width: 560px;
}
</style>
