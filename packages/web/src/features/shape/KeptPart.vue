<script setup lang="ts">
import {
  formatDuration,
  type RecipeSpan,
  type SideMix,
  type TakeSeries,
  type TakeView,
  type TimeRange,
} from '@apodix/core';
import { computed } from 'vue';
import { writeKey, type KeyAction } from '../../keys/key-actions.ts';
import { useKeySettings } from '../../keys/key-settings.ts';
import { measureParts } from './cut/parts.ts';
import { zoomView } from './strip-layout.ts';
import TrimStrip from './TrimStrip.vue';

/** What is kept of a take: in figures, with the reasons of the proposal, and on the strip. */
const props = defineProps<{
  take: TakeView;
  series: TakeSeries | null;
  parts: readonly RecipeSpan[];
  chosen: number;
  range: TimeRange;
  durationUs: number;
  positionUs: number;
  frameUs: number;
  /** How the sound is raised and mixed, and how loud it is to be. */
  gainDb: number;
  mix: SideMix;
  wantedLoudness: { readonly min: number | null; readonly max: number | null } | null;
}>();
const emit = defineEmits<{
  seek: [instantUs: number];
  range: [range: TimeRange, isDragging: boolean];
  choose: [index: number];
}>();
const view = defineModel<TimeRange>('view', { required: true });
const settings = useKeySettings();
const suggested = computed(() => props.take.proposal?.recipe.spans[0] ?? null);
const keyWords = computed(() => {
  const keyOf = (action: KeyAction) => writeKey(settings.keyOf(action));
  return [
    `${keyOf('start-here')} start here`,
    `${keyOf('finish-here')} finish here`,
    `${keyOf('frame-back')} ${keyOf('frame-on')} step a frame`,
    `${keyOf('play')} plays`,
    `${keyOf('help')} all keys`,
  ].join(' · ');
});
const isWhole = computed(() => view.value.finishUs - view.value.startUs >= props.durationUs);
function zoom(factor: number): void {
  const bounds = { durationUs: props.durationUs, leastUs: 12 * props.frameUs };
  view.value = zoomView(view.value, factor, props.positionUs, bounds);
}
</script>

<template>
  <div class="line">
    <strong
      >Keep
      <span class="figures"
        >{{ formatDuration(range.startUs, 2) }} → {{ formatDuration(range.finishUs, 2) }}</span
      >
      <span class="note figures length">{{ formatDuration(measureParts(parts), 2) }}</span><span
        v-if="parts.length > 1"
        class="note"
        >&nbsp;in {{ parts.length }} parts</span
      ></strong
    ><span v-if="suggested" class="note suggestion"
      >Suggested start {{ formatDuration(suggested.startUs, 1) }}: {{ take.proposal?.startReason }} |
      suggested finish {{ formatDuration(suggested.finishUs, 1) }}: {{ take.proposal?.finishReason }}</span
    >
  </div>
  <TrimStrip
    v-model:view="view"
    :take="take"
    :series="series"
    :parts="parts"
    :chosen="chosen"
    :duration-us="durationUs"
    :position-us="positionUs"
    :frame-us="frameUs"
    :gain-db="gainDb"
    :mix="mix"
    :wanted-loudness="wantedLoudness"
    @seek="emit('seek', $event)"
    @range="(next, isDragging) => emit('range', next, isDragging)"
    @choose="emit('choose', $event)"
  />
  <div class="legend">
    <span class="zoom"
      ><button type="button" aria-label="Farther" :disabled="isWhole" @click="zoom(0.5)">−</button
      ><button type="button" aria-label="Nearer" @click="zoom(2)">+</button
      ><button v-if="!isWhole" type="button" @click="zoom(1e-9)">All of it</button></span
    >
    <span v-if="take.stripUrl" class="note key pictures">pictures</span>
    <span class="note key sound">sound</span>
    <span v-if="series?.blocks" class="note key loudness"
      >loudness<template v-if="wantedLoudness">, wanted shaded</template></span
    >
    <span v-if="series?.movement" class="note key movement">movement</span>
    <p v-if="settings.isOn" class="note keys">{{ keyWords }}</p>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  align-items: baseline;
  flex-wrap: wrap;
}
.length {
  margin-inline-start: 12px;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
}
.zoom {
  display: flex;
  gap: 4px;
}
.zoom button {
  min-width: 40px;
  min-height: 40px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--sheet);
  font-weight: 700;
  padding: 0 8px;
}
@media (pointer: fine) {
  .zoom button {
    min-height: 28px;
    min-width: 32px;
  }
}
.zoom button:disabled {
  opacity: 0.4;
}
.key {
  white-space: nowrap;
}
.key::before {
  content: '';
  display: inline-block;
  width: 14px;
  height: 5px;
  margin-right: 5px;
  vertical-align: middle;
  background: var(--soft-ink);
}
.key.sound::before {
  background: color-mix(in srgb, var(--ink) 62%, var(--met));
}
.key.loudness::before {
  height: 2px;
  background: var(--ink);
}
.key.movement::before {
  background: var(--saffron-line);
}
.keys {
  margin-left: auto;
  text-align: right;
}
@media (max-width: 1000px) {
  .keys {
    display: none;
  }
}
</style>
