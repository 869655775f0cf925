<script setup lang="ts">
import { MOST_BORDER, type Recipe } from '@apodix/core';
import { computed } from 'vue';
import SliderRow from '../SliderRow.vue';
import { MOST_TRIM, readTrim } from './trim-edges.ts';

/** What is taken off the edges of a photographed piece, and the white that is put around it. */
const props = defineProps<{ picture: Recipe['picture'] }>();
const emit = defineEmits<{
  trim: [share: number, isDragging: boolean];
  border: [share: number, isDragging: boolean];
}>();
const trim = computed(() => readTrim(props.picture.crop));
const percent = (share: number) => (share === 0 ? 'none' : `${(share * 100).toFixed(1)} %`);
</script>

<template>
  <section>
    <h2>Edges</h2>
    <SliderRow
      v-if="trim !== null"
      :model-value="trim"
      label="Trim all sides"
      :figure="percent(trim)"
      :min="0"
      :max="MOST_TRIM"
      :step="0.001"
      :rest="0"
      @update:model-value="emit('trim', $event, true)"
      @end="emit('trim', trim ?? 0, false)"
    />
    <SliderRow
      :model-value="picture.border"
      label="White border"
      :figure="percent(picture.border)"
      :min="0"
      :max="MOST_BORDER"
      :step="0.005"
      :rest="0"
      @update:model-value="emit('border', $event, true)"
      @end="emit('border', picture.border, false)"
    />
    <p class="note">
      Trimming takes off a rim of table or a worn edge. The border is as wide on every side, in shares of the
      shorter edge.
    </p>
  </section>
</template>

<style scoped src="../tools.css"></style>
