<script setup lang="ts">
import type { Advice, PictureAdvice, SoundReading } from '@apodix/core';
import { computed } from 'vue';
import SoundMeter from './SoundMeter.vue';

/** What the camera hears and sees, and what to do about it. */
const props = defineProps<{
  sound: SoundReading | null;
  soundAdvice: Advice | null;
  picture: PictureAdvice | null;
  inView: Advice | null;
  soundWords: string | null;
  isAwake: boolean;
  isLookedFor: boolean;
}>();
const rows = computed(() =>
  [
    { label: 'Light', advice: props.picture?.light ?? null },
    { label: 'Piece', advice: props.picture?.piece ?? null },
    { label: 'Level', advice: props.picture?.level ?? null },
    { label: 'Focus', advice: props.picture?.focus ?? null },
    { label: 'In view', advice: props.inView },
  ].filter((row) => row.advice !== null),
);
</script>

<template>
  <aside class="readings" aria-label="Before you start">
    <h2>Before you start</h2>
    <section v-if="soundAdvice">
      <h3>Sound</h3>
      <SoundMeter :reading="sound" />
      <p :class="{ bad: !soundAdvice.isGood }" data-testid="sound-advice">{{ soundAdvice.text }}</p>
      <p v-if="soundWords" class="bad" data-testid="sound-words">{{ soundWords }}</p>
    </section>
    <section v-for="row in rows" :key="row.label">
      <h3>{{ row.label }}</h3>
      <p :class="{ bad: !row.advice?.isGood }" :data-testid="`advice-${row.label}`">{{ row.advice?.text }}</p>
    </section>
    <p class="small">
      Saved several times a second while you record. If the page closes, nothing is lost.
      <template v-if="isAwake"> The screen stays awake.</template>
      <template v-if="isLookedFor">
        Face and hands are looked for on this device alone; no picture is kept or sent for it.
      </template>
    </p>
  </aside>
</template>

<style scoped>
.readings {
  color: #eef1ef;
  padding: 18px 16px;
  display: grid;
  gap: 16px;
  align-content: start;
  overflow-y: auto;
}
h2 {
  font-size: 16px;
}
h3 {
  font-size: 14px;
  font-weight: 700;
}
p {
  color: #c9d0cf;
  font-size: 14px;
}
p.bad {
  color: #f0be58;
}
.small {
  font-size: 12.5px;
  border-top: 1px solid #465052;
  padding-top: 12px;
}
@media (max-width: 1000px) {
  .readings {
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
    gap: 10px 16px;
    padding: 12px 16px;
  }
  h2 {
    display: none;
  }
  .small {
    grid-column: 1 / -1;
  }
}
</style>
