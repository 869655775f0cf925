<script setup lang="ts">
import { formatBytes, formatDuration } from '@apodix/core';
import { computed } from 'vue';
import { describePast } from '../../composables/describe-due.ts';
import { useNow } from '../../composables/useNow.ts';
import type { ListedRecording } from './pieces/piece-store.ts';

/** A recording that lies in this browser: to be kept, looked at, or thrown away. */
const props = defineProps<{ recording: ListedRecording; isShown: boolean }>();
const emit = defineEmits<{ keep: []; look: []; away: [] }>();
const now = useNow();
const facts = computed(() => {
  const { durationMs, sizeBytes, mode, startedAt } = props.recording;
  const length = mode === 'photo' || durationMs === 0 ? '' : formatDuration(durationMs * 1000);
  return [length, formatBytes(sizeBytes), describePast(startedAt, now.value)].filter(Boolean).join(' · ');
});
</script>

<template>
  <article class="sheet card kept" :class="{ shown: isShown }" data-testid="kept">
    <strong>{{ recording.name }}</strong>
    <p class="figures facts">{{ facts }}</p>
    <p class="state">
      {{
        recording.isWhole
          ? 'Recorded here, not sent yet.'
          : 'Not finished: the page or the device went off. All but the last moment is here.'
      }}
    </p>
    <div class="acts">
      <button type="button" class="main" @click="emit('keep')">Keep this take</button>
      <button type="button" @click="emit('look')">{{ isShown ? 'Playing above' : 'Play it' }}</button>
      <button type="button" @click="emit('away')">Throw away</button>
    </div>
  </article>
</template>

<style scoped>
.card {
  padding: 9px 12px;
  display: grid;
  gap: 3px;
  align-content: start;
  border-left: 4px solid var(--saffron-line);
}
.card.shown {
  border-color: var(--saffron-line);
}
.facts {
  font-size: 13px;
  color: var(--soft-ink);
}
.state {
  font-size: 14px;
}
.acts {
  display: flex;
  gap: 14px;
  flex-wrap: wrap;
}
.acts button {
  min-height: 40px;
  font-weight: 600;
  color: var(--soft-ink);
  text-decoration: underline;
  text-underline-offset: 3px;
}
.acts .main {
  color: var(--met);
  font-weight: 700;
  text-decoration: none;
}
strong {
  overflow-wrap: anywhere;
}
</style>
