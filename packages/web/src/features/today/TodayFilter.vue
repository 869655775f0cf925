<script setup lang="ts">
import { useTemplateRef } from 'vue';
import { useKeys } from '../../keys/useKeys.ts';

/** Search by words, and by course. */
defineProps<{ courses: readonly string[] }>();
const words = defineModel<string>('words', { required: true });
const course = defineModel<string>('course', { required: true });
const search = useTemplateRef<HTMLInputElement>('search');
useKeys({ search: () => search.value?.focus() });
</script>

<template>
  <div class="filter">
    <input ref="search" v-model="words" type="search" placeholder="Search" aria-label="Search assignments" />
    <div class="courses" role="group" aria-label="Courses">
      <button
        v-for="each in ['', ...courses]"
        :key="each"
        type="button"
        :class="{ on: course === each }"
        :aria-pressed="course === each"
        @click="course = course === each ? '' : each"
      >
        {{ each || 'All' }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.filter {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
  margin-top: 6px;
}
input {
  flex: 0 1 220px;
  min-height: 40px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--sheet);
  color: var(--ink);
  padding: 0 12px;
  font: inherit;
}
.courses {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
}
.courses button {
  min-height: 40px;
  padding: 0 12px;
  border-radius: 6px;
  color: var(--soft-ink);
  font-weight: 600;
}
.courses button.on {
  background: var(--ink);
  color: var(--paper);
}
@media (max-width: 1000px) {
  input {
    flex: 1 1 100%;
  }
}
</style>
