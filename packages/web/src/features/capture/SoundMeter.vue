<script setup lang="ts">
import type { SoundReading } from '@apodix/core';
import { computed } from 'vue';

/** The level of the sound on a scale from −60 dB to full, with the highest of the last two seconds. */
const props = defineProps<{ reading: SoundReading | null }>();
const LOWEST = -60;
const place = (db: number) => Math.max(0, Math.min(100, ((db - LOWEST) / -LOWEST) * 100));
const level = computed(() => place(props.reading?.levelDb ?? LOWEST));
const peak = computed(() => place(props.reading?.heldPeakDb ?? LOWEST));
</script>

<template>
  <div
    class="meter"
    role="meter"
    aria-label="Sound level"
    aria-valuemin="-60"
    aria-valuemax="0"
    :aria-valuenow="Math.round(reading?.levelDb ?? LOWEST)"
  >
    <span class="top" />
    <span class="level" :style="{ width: `${level}%` }" />
    <span class="peak" :class="{ clipped: (reading?.clippedCount ?? 0) > 0 }" :style="{ left: `${peak}%` }" />
  </div>
</template>

<style scoped>
.meter {
  position: relative;
  height: 14px;
  border-radius: 2px;
  background: #343d3f;
  margin: 6px 0;
  overflow: hidden;
}
.top {
  position: absolute;
  inset: 0 0 0 95%;
  background: #7d3531;
}
.level {
  position: absolute;
  inset: 0 auto 0 0;
  background: #58bcac;
}
.peak {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 3px;
  margin-left: -2px;
  background: #fff;
}
.peak.clipped {
  background: #f0897f;
}
</style>
