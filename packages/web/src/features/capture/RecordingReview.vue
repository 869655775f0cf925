<script setup lang="ts">
import type { ListedRecording } from './pieces/piece-store.ts';

/** What was just recorded, to be looked at before anything else. */
defineProps<{ recording: ListedRecording; url: string | null }>();
const emit = defineEmits<{ keep: []; again: []; away: [] }>();
</script>

<template>
  <div class="review" data-testid="review">
    <div class="play">
      <template v-if="url">
        <img v-if="recording.mode === 'photo'" :src="url" alt="The photograph as it was taken" />
        <audio v-else-if="recording.mode === 'sound'" :src="url" controls />
        <video v-else :src="url" controls playsinline />
      </template>
    </div>
    <div class="acts">
      <v-btn class="go" color="primary" size="large" @click="emit('keep')">Keep this take</v-btn>
      <v-btn class="quiet" size="large" @click="emit('again')">Record again</v-btn>
      <v-btn class="quiet" size="large" @click="emit('away')">Throw away</v-btn>
    </div>
    <p class="note">“Record again” keeps this one too: it stays below until you throw it away.</p>
  </div>
</template>

<style scoped>
.review {
  flex: 1;
  min-height: 0;
  background: var(--surround);
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto auto;
  gap: 10px;
  padding: 16px;
  justify-items: center;
}
.play {
  min-height: 0;
  height: 100%;
  width: 100%;
  display: grid;
  place-content: center;
  grid-template-rows: minmax(0, 1fr);
}
img,
video {
  max-width: 100%;
  max-height: 100%;
  min-height: 0;
  object-fit: contain;
}
.acts {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
  justify-content: center;
}
.note {
  color: #fff;
}
@media (max-width: 1000px) {
  .play {
    height: 46vh;
  }
}
</style>
