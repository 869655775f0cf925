<script setup lang="ts">
import type { BulletScale } from '@apodix/core';
import { computed } from 'vue';

/** The allowed zone with the recording (ring) and the result (disc; a square where it falls short). */
const props = defineProps<{ scale: BulletScale; source: number | null; isShort: boolean }>();
const low = computed(() => Math.min(props.scale.scaleMin, props.source ?? Infinity));
const high = computed(() => Math.max(props.scale.scaleMax, (props.source ?? -Infinity) * 1.04));
const at = (value: number) =>
  Math.min(100, Math.max(0, ((value - low.value) / (high.value - low.value || 1)) * 100));
const zone = computed(() => {
  const from = props.scale.zoneMin === null ? 0 : at(props.scale.zoneMin);
  const to = props.scale.zoneMax === null ? 100 : at(props.scale.zoneMax);
  return { from, width: Math.max(0.6, to - from) };
});
</script>

<template>
  <div class="bullet" aria-hidden="true">
    <div class="zone" :style="{ left: `${zone.from}%`, width: `${zone.width}%` }" />
    <div
      v-for="(edge, index) in [scale.zoneMin, scale.zoneMax].filter((each) => each !== null)"
      :key="index"
      class="edge"
      :style="{ left: `${at(edge)}%` }"
    />
    <div v-if="source !== null" class="ring" :style="{ left: `${at(source)}%` }" />
    <div
      v-if="scale.value !== null"
      class="disc"
      :class="{ short: isShort }"
      :style="{ left: `${at(scale.value)}%` }"
    />
  </div>
</template>

<style scoped>
.bullet {
  position: relative;
  height: 8px;
  background: var(--track);
  border-radius: 3px;
  margin: 5px 6px 5px 0;
}
.zone {
  position: absolute;
  inset-block: 0;
  background: var(--met-soft);
}
.edge {
  position: absolute;
  top: -3px;
  bottom: -3px;
  width: 2px;
  background: var(--ink);
  margin-left: -1px;
}
.ring {
  position: absolute;
  top: 50%;
  width: 10px;
  height: 10px;
  margin: -5px 0 0 -5px;
  border-radius: 50%;
  border: 2px solid var(--ink);
  background: var(--sheet);
}
.disc {
  position: absolute;
  top: 50%;
  width: 12px;
  height: 12px;
  margin: -6px 0 0 -6px;
  border-radius: 50%;
  background: var(--met);
}
.disc.short {
  background: var(--madder);
  border-radius: 2px;
}
</style>
