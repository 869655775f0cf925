<script setup lang="ts">
import { formatBytes, formatExactBytes, type LimitOf, type MadeView } from '@apodix/core';
import { computed } from 'vue';
import type { divideBytes } from './divide-bytes.ts';
import HardestMoment from './HardestMoment.vue';
import PlanLines from './PlanLines.vue';

/** The finished video and where its bytes go; before that, what it will be. */
const props = defineProps<{
  made: MadeView | null;
  lines: readonly (readonly [string, string])[];
  parts: ReturnType<typeof divideBytes>;
  sizeLimit: LimitOf<'file-size'> | null;
}>();
const most = computed(() => Math.max(1, ...props.parts.map((part) => part.bytes)));
</script>

<template>
  <section class="sheet lower">
    <HardestMoment v-if="made && made.moments.length" :made="made" />
    <div v-else-if="made" class="watch">
      <h2>The finished file</h2>
      <video
        :key="made.id"
        :src="made.fileUrl"
        :poster="made.posterUrl ?? undefined"
        controls
        preload="metadata"
        playsinline
      />
    </div>
    <div v-else class="watch">
      <h2>Hardest moment</h2>
      <p class="note">
        Once the file is made, the five seconds that suffered most are shown here beside the recording.
      </p>
      <PlanLines :lines="lines" />
    </div>
    <div class="bytes">
      <h2>Where the megabytes go</h2>
      <div v-for="part in parts" :key="part.label">
        <div class="line">
          <span>{{ part.label }}</span><span class="figures" :title="formatExactBytes(part.bytes)">{{
            formatBytes(part.bytes)
          }}</span>
        </div>
        <div class="track">
          <span :style="{ width: `${Math.max(1, (100 * part.bytes) / most)}%` }" />
        </div>
      </div>
      <p v-if="sizeLimit?.isAmbiguous && sizeLimit.maxBytes !== null" class="note">
        {{ formatBytes(sizeLimit.maxBytes) }} is read as {{ formatExactBytes(sizeLimit.maxBytes) }}, the
        stricter of the two meanings.
      </p>
      <details v-if="made && made.moments.length">
        <summary>Play the finished file</summary>
        <video
          :src="made.fileUrl"
          :poster="made.posterUrl ?? undefined"
          controls
          preload="metadata"
          playsinline
        />
      </details>
    </div>
  </section>
</template>

<style scoped>
.lower {
  padding: 14px;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 280px;
  gap: 20px;
  align-items: start;
}
h2 {
  font-size: 16px;
}
video {
  width: 100%;
  max-height: 40vh;
  background: var(--surround);
  border-radius: 4px;
  display: block;
}
.watch,
.bytes {
  display: grid;
  gap: 10px;
  align-content: start;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: baseline;
}
summary {
  cursor: pointer;
  min-height: 40px;
  align-content: center;
  text-decoration: underline;
  font-size: 14px;
}
.track {
  height: 8px;
  background: var(--track);
  border-radius: 2px;
  overflow: hidden;
}
.track span {
  display: block;
  height: 100%;
  background: var(--met);
}
@media (max-width: 1000px) {
  .lower {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
