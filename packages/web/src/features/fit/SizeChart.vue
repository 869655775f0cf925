<script setup lang="ts">
import type { FitChoice, JobView, Plan, TakeView } from '@apodix/core';
import type { buildOffers } from '@apodix/core';
import { computed } from 'vue';
import JobBar from '../../components/JobBar.vue';
import ClarityChart from './ClarityChart.vue';
import SizeChoice from './SizeChoice.vue';

/** What each size would look like: the chart, or what it waits for. */
const props = defineProps<{
  take: TakeView;
  offers: ReturnType<typeof buildOffers> | null;
  plan: Plan | null;
  limitBytes: number | null;
  made: readonly { sizeBytes: number; ssim: number; isCurrent: boolean }[];
  sampling: JobView | null;
  otherLimits: readonly string[];
  isMaking: boolean;
  isMade: boolean;
}>();
const emit = defineEmits<{ choose: [choice: FitChoice | null]; cancel: [jobId: string] }>();
const curves = computed(() => props.offers?.curves ?? []);
const lines = computed(() => [...new Set(curves.value.map((curve) => curve.lines))]);
const count = computed(() => props.take.samples?.windows.length ?? 0);
</script>

<template>
  <section class="sheet chart">
    <div class="line">
      <h2>What each size would look like</h2>
      <span v-if="curves.length" class="note"
        >tried on {{ count }} short {{ count === 1 ? 'sample' : 'samples' }} of your own video{{
          sampling ? '; more are being tried' : ''
        }}</span
      >
    </div>
    <ClarityChart
      v-if="curves.length && plan?.kind === 'video'"
      :curves="curves"
      :plan="plan"
      :limit-bytes="limitBytes"
      :made="made"
      :is-disabled="isMaking"
      @choose="emit('choose', $event)"
    />
    <div v-else class="waiting">
      <JobBar
        v-if="sampling"
        :stage="sampling.state === 'waiting' ? 'Waiting until the computer is free' : sampling.stage"
        :share="sampling.share"
        :seconds-left="sampling.secondsLeft"
        can-cancel
        @cancel="emit('cancel', sampling.id)"
      />
      <p>
        {{
          sampling
            ? 'Short samples of your video are being tried in several sizes. You need not wait: the file can be made now.'
            : 'No samples of this video have been tried yet.'
        }}
      </p>
    </div>
    <p v-if="otherLimits.length" class="note">Other limits count too: {{ otherLimits.join('; ') }}.</p>
    <SizeChoice
      v-if="curves.length && !isMade && !isMaking"
      :lines="lines"
      @choose="emit('choose', $event)"
    />
  </section>
</template>

<style scoped>
.chart {
  padding: 12px 14px;
  display: grid;
  gap: 6px;
  grid-template-rows: auto minmax(350px, 1fr);
  grid-auto-rows: auto;
  min-height: 392px;
}
h2 {
  font-size: 16px;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: baseline;
  flex-wrap: wrap;
}
.waiting {
  display: grid;
  gap: 12px;
  align-content: center;
  min-height: 320px;
  padding: 0 8%;
  text-align: center;
  color: var(--soft-ink);
}
@media (max-width: 1000px) {
  .chart {
    min-height: 340px;
  }
}
</style>
