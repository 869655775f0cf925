<script setup lang="ts">
import {
  convertSsimToClarity,
  describeClarity,
  formatBytes,
  formatExactBytes,
  isSameChoice,
  readRate,
  type FitChoice,
  type FitSamples,
  type Offer,
  type VideoPlan,
} from '@apodix/core';
import { useTemplateRef } from 'vue';
import { moveRadio } from '../../composables/move-radio.ts';
import { describeSeconds, estimateMakeSeconds, estimateSendSeconds } from './estimate-times.ts';

const props = defineProps<{
  offers: readonly Offer[];
  choice: FitChoice | null;
  samples: FitSamples | null;
  megabits: number;
  isDisabled: boolean;
}>();
const emit = defineEmits<{ choose: [choice: FitChoice | null] }>();

const list = useTemplateRef<HTMLElement>('list');
const isChosen = (offer: Offer) => isSameChoice(offer.choice, props.choice);
/** One of them is reached by Tab: the chosen one, else the first. */
const isTabStop = (offer: Offer, index: number) =>
  props.offers.some(isChosen) ? isChosen(offer) : index === 0;
function onKey(event: KeyboardEvent, index: number): void {
  const to = moveRadio(event.key, index, props.offers.length);
  const offer = to === null ? undefined : props.offers[to];
  if (to === null || !offer || props.isDisabled) return;
  event.preventDefault();
  list.value?.querySelectorAll<HTMLElement>('[role=radio]')[to]?.focus();
  emit('choose', offer.choice);
}

function describePicture(plan: VideoPlan): string {
  const sound = plan.sound?.bitrateBps ? `, sound ${Math.round(plan.sound.bitrateBps / 1000)} kbit/s` : '';
  return `${Math.min(plan.cut.widthPx, plan.cut.heightPx)} lines · ${Number(readRate(plan.cut.frameRate).toFixed(2))} a second${sound}`;
}
function describeTimes(plan: VideoPlan): string {
  const making = estimateMakeSeconds(plan, props.samples);
  return [
    making === null ? null : `${describeSeconds(making)} to make`,
    `${describeSeconds(estimateSendSeconds(plan.prediction.bytes, props.megabits))} to send`,
  ]
    .filter((part) => part !== null)
    .join(' · ');
}
</script>

<template>
  <div ref="list" class="offers" role="radiogroup" aria-label="Ways to make the file">
    <button
      v-for="(offer, index) in offers"
      :key="offer.id"
      type="button"
      role="radio"
      class="sheet"
      :class="{ on: isChosen(offer) }"
      :aria-checked="isChosen(offer)"
      :tabindex="isTabStop(offer, index) ? 0 : -1"
      :disabled="isDisabled"
      @click="emit('choose', offer.choice)"
      @keydown="onKey($event, index)"
    >
      <span class="line"
        ><strong>{{ offer.title }}</strong
        ><strong class="figures" :title="formatExactBytes(offer.plan.prediction.bytes)">{{
          formatBytes(offer.plan.prediction.bytes)
        }}</strong></span
      >
      <span class="soft">{{ describePicture(offer.plan) }}</span>
      <span v-if="offer.plan.prediction.ssim !== null" class="soft"
        >clarity {{ convertSsimToClarity(offer.plan.prediction.ssim).toFixed(1) }} of 100 ·
        {{ describeClarity(offer.plan.prediction.ssim) }}</span
      >
      <span class="soft">{{ describeTimes(offer.plan) }}</span>
      <span v-if="isChosen(offer)" class="why">{{ offer.why }}</span>
    </button>
  </div>
</template>

<style scoped>
.offers {
  display: grid;
  gap: 8px;
}
button {
  display: grid;
  gap: 1px;
  padding: 10px 12px;
  text-align: left;
  min-height: 48px;
}
button.on {
  outline: 2px solid var(--met);
  outline-offset: -2px;
}
button:disabled {
  cursor: default;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  align-items: baseline;
  flex-wrap: wrap;
}
.soft {
  color: var(--soft-ink);
  font-size: 13px;
}
.why {
  font-size: 13px;
  padding-top: 3px;
}
</style>
