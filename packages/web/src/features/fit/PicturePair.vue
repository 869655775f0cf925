<script setup lang="ts">
import { formatBytes, type MadeView, type TakeView } from '@apodix/core';
import ProofSign from '../../components/ProofSign.vue';
import PlanLines from './PlanLines.vue';

/** Recording and finished file side by side, of what is no video. */
defineProps<{
  take: TakeView;
  made: MadeView | null;
  lines: readonly (readonly [string, string])[];
}>();
</script>

<template>
  <section class="sheet pictures">
    <h2>Recording and result</h2>
    <div class="pair">
      <figure>
        <img v-if="take.posterUrl" :src="take.posterUrl" alt="The recording" /><span v-else class="blank"
          >sound only</span
        >
        <figcaption>recording · {{ formatBytes(take.sizeBytes) }}</figcaption>
      </figure>
      <figure>
        <audio v-if="made?.plan.kind === 'sound'" :src="made.fileUrl" controls />
        <img v-else-if="made" :src="made.posterUrl ?? made.fileUrl" alt="The made file" />
        <div v-else class="blank">
          <ProofSign measured="open" planned="open" proven="open" :size="34" /><span>not made yet</span>
        </div>
        <figcaption>
          {{ made ? `finished file · ${formatBytes(made.sizeBytes)}` : 'finished file' }}
        </figcaption>
      </figure>
    </div>
    <PlanLines :lines="lines" />
  </section>
</template>

<style scoped>
.pictures {
  padding: 14px;
  display: grid;
  gap: 12px;
}
h2 {
  font-size: 16px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
figure {
  margin: 0;
  background: var(--surround);
  border-radius: 4px;
  overflow: hidden;
  position: relative;
  display: grid;
  align-content: center;
  min-height: 220px;
}
figure img {
  width: 100%;
  max-height: 46vh;
  object-fit: contain;
  display: block;
}
figure audio {
  width: 100%;
  padding: 0 8px;
}
figcaption {
  position: absolute;
  top: 8px;
  left: 8px;
  background: rgb(0 0 0 / 66%);
  color: #fff;
  font-size: 13px;
  padding: 2px 8px;
  border-radius: 3px;
}
.blank {
  display: grid;
  gap: 8px;
  justify-items: center;
  background: var(--sheet);
  color: var(--soft-ink);
  margin: 24px;
  padding: 24px;
  border-radius: 6px;
}
@media (max-width: 1000px) {
  .pair {
    grid-template-columns: 1fr;
  }
}
</style>
