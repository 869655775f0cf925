<script setup lang="ts">
import { formatDuration, type TakeView, type TimeRange } from '@apodix/core';
import { computed } from 'vue';
import { writeKey, type KeyAction } from '../../keys/key-actions.ts';
import { useKeySettings } from '../../keys/key-settings.ts';
import TrimStrip from './TrimStrip.vue';

/** What is kept of a take: in figures, with the reasons of the proposal, and on the strip. */
const props = defineProps<{
  take: TakeView;
  peaks: readonly number[];
  range: TimeRange;
  durationUs: number;
  positionUs: number;
  frameUs: number;
}>();
const emit = defineEmits<{ seek: [instantUs: number]; range: [range: TimeRange, isDragging: boolean] }>();
const settings = useKeySettings();
const suggested = computed(() => props.take.proposal?.recipe.spans[0] ?? null);
const keyWords = computed(() => {
  const keyOf = (action: KeyAction) => writeKey(settings.keyOf(action));
  return [
    `${keyOf('start-here')} start here`,
    `${keyOf('finish-here')} finish here`,
    `${keyOf('frame-back')} ${keyOf('frame-on')} step a frame`,
    `${keyOf('play')} plays`,
    `${keyOf('before')} before or after`,
    `${keyOf('help')} all keys`,
  ].join(' · ');
});
</script>

<template>
  <div class="line">
    <strong
      >Keep
      <span class="figures"
        >{{ formatDuration(range.startUs, 2) }} → {{ formatDuration(range.finishUs, 2) }}</span
      >
      <span class="note figures length">{{ formatDuration(range.finishUs - range.startUs, 2) }}</span></strong
    ><span v-if="suggested" class="note suggestion"
      >Suggested start {{ formatDuration(suggested.startUs, 1) }}: {{ take.proposal?.startReason }} |
      suggested finish {{ formatDuration(suggested.finishUs, 1) }}: {{ take.proposal?.finishReason }}</span
    >
  </div>
  <TrimStrip
    :peaks="peaks"
    :take="take"
    :range="range"
    :duration-us="durationUs"
    :position-us="positionUs"
    :frame-us="frameUs"
    @seek="emit('seek', $event)"
    @range="(next, isDragging) => emit('range', next, isDragging)"
  />
  <p v-if="settings.isOn" class="note keys">{{ keyWords }}</p>
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
.keys {
  text-align: right;
}
@media (max-width: 1000px) {
  .keys {
    display: none;
  }
}
</style>
