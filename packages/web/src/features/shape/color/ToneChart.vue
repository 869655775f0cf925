<script setup lang="ts">
import type { Tones } from './read-tones.ts';

/** How the light of the picture on screen is spread, from black to white. */
defineProps<{ tones: Tones }>();
</script>

<template>
  <svg
    class="chart"
    :viewBox="`0 0 ${tones.columns.length * 5} 48`"
    preserveAspectRatio="none"
    role="img"
    aria-label="How the light is spread, from black to white"
  >
    <rect
      v-for="(height, index) in tones.columns"
      :key="index"
      :x="index * 5"
      :y="48 - height * 46"
      width="4"
      :height="height * 46"
    />
  </svg>
</template>

<style scoped>
.chart {
  width: 100%;
  height: 54px;
  background: var(--track);
  border-radius: 4px;
}
rect {
  fill: var(--ink);
  opacity: 0.75;
}
</style>
