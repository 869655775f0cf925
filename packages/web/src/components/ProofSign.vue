<script setup lang="ts">
import type { FindingState } from '@apodix/core';
import { computed } from 'vue';

export type BarState = FindingState | 'open';
/**
 * Three bars: bottom measured, middle planned, top proven. Full is met, an outline is not known yet, a split
 * bar falls short, an outline with a dot is left to a person.
 */
const props = defineProps<{ measured: BarState; planned: BarState; proven: BarState; size?: number }>();
/** Red is what is to be done: once the file is proven, what the recording fell short in is told quietly. */
const shortColor = computed(() =>
  props.proven === 'met' || props.proven === 'person' ? 'var(--soft-ink)' : 'var(--madder)',
);
const words = {
  met: 'met',
  short: 'short',
  unknown: 'not known',
  person: 'left to you',
  open: 'not yet',
} as const;
</script>

<template>
  <svg
    :width="size ?? 20"
    :height="size ?? 20"
    viewBox="0 0 20 20"
    role="img"
    :aria-label="`recording ${words[measured]}, plan ${words[planned]}, finished file ${words[proven]}`"
  >
    <template v-for="(state, row) in [proven, planned, measured]" :key="row">
      <rect
        v-if="state === 'met'"
        x="0.5"
        :y="row * 7 + 0.5"
        width="19"
        height="5"
        fill="var(--met)"
        stroke="var(--met)"
      />
      <template v-else-if="state === 'short'">
        <path :d="`M0.5 ${row * 7 + 0.5} H8.5 L6.5 ${row * 7 + 5.5} H0.5z`" :fill="shortColor" />
        <path :d="`M12 ${row * 7 + 0.5} H19.5 V${row * 7 + 5.5} H10z`" :fill="shortColor" />
      </template>
      <template v-else-if="state === 'person'">
        <rect x="0.5" :y="row * 7 + 0.5" width="19" height="5" fill="none" stroke="var(--met)" />
        <circle cx="10" :cy="row * 7 + 3" r="1.5" fill="var(--met)" />
      </template>
      <rect
        v-else
        x="0.5"
        :y="row * 7 + 0.5"
        width="19"
        height="5"
        fill="none"
        stroke="var(--soft-ink)"
        :stroke-dasharray="state === 'unknown' ? '2 2' : undefined"
      />
    </template>
  </svg>
</template>
