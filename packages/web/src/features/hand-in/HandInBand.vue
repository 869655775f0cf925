<script setup lang="ts">
import type { HandInView } from '@apodix/core';
import { describePast } from '../../composables/describe-due.ts';
import { describeMissing } from './describe-missing.ts';

/** One sentence across the page: whether it is handed in. */
defineProps<{
  standing: HandInView | null;
  isReceived: boolean;
  isSending: boolean;
  missing: readonly string[];
  now: number;
}>();
const words: Readonly<Partial<Record<HandInView['state'], string>>> = {
  'being-checked': 'Your teacher is checking it.',
  accepted: 'Your teacher has accepted it.',
};
</script>

<template>
  <div class="band" :class="{ received: isReceived, sending: isSending }" role="status">
    <template v-if="isReceived && standing?.state === 'by-hand'"
      ><strong>Given by hand.</strong> You noted: “{{ standing.note }}”. There is no receipt for it.</template
    >
    <template v-else-if="isReceived"
      ><strong>Handed in.</strong> Received
      {{ standing?.receivedAt ? describePast(standing.receivedAt, now) : '' }}, attempt
      {{ standing?.attempt }}. {{ standing ? words[standing.state] : '' }}
      <router-link
        v-if="standing?.receiptId"
        :to="{ name: 'receipt', params: { receiptId: standing.receiptId } }"
        >See the receipt</router-link
      ></template
    >
    <template v-else-if="isSending"><strong>On its way.</strong> Not received yet.</template>
    <template v-else-if="standing?.state === 'taken-back'"
      ><strong>You took it back.</strong> It is not handed in. {{ describeMissing(missing) }}</template
    >
    <template v-else><strong>Not handed in yet.</strong> {{ describeMissing(missing) }}</template>
  </div>
</template>

<style scoped>
.band {
  background: var(--saffron-soft);
  border-bottom: 1px solid var(--saffron-line);
  padding: 11px 24px;
}
.band strong {
  font: 700 17px var(--display);
  margin-right: 10px;
}
.band.received {
  background: color-mix(in srgb, var(--met) 12%, var(--sheet));
  border-color: var(--met);
}
@media (max-width: 1000px) {
  .band {
    padding: 11px 14px;
  }
}
</style>
