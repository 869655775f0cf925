<script setup lang="ts">
import { cleanDisplayName, formatBytes } from '@apodix/core';
import { computed } from 'vue';
import JobBar from './JobBar.vue';
import { useUploads, type UploadItem } from '../stores/uploads.ts';

/** One file on its way in. */
const props = defineProps<{ item: UploadItem }>();
const emit = defineEmits<{ choose: [] }>();
const uploads = useUploads();
const speed = computed(() =>
  props.item.bytesPerS === null ? '' : ` · ${formatBytes(props.item.bytesPerS)} a second`,
);
const stage = computed(
  () =>
    ({
      queued: 'Waits for its turn',
      sending: `Sending ${formatBytes(props.item.sizeBytes)}${speed.value}`,
      paused: 'Paused',
      failed: 'Stopped',
      done: 'Here',
      'waiting-for-file': '',
    })[props.item.state],
);
</script>

<template>
  <article class="sheet card">
    <strong>{{ cleanDisplayName(item.name, 40) }}</strong>
    <template v-if="item.state === 'waiting-for-file'"
      ><p>The upload was interrupted. Choose the same file again: it goes on where it stopped.</p>
      <div class="acts">
        <button type="button" @click="emit('choose')">Choose it again</button
        ><button type="button" @click="uploads.cancel(item.key)">Forget it</button>
      </div></template
    >
    <template v-else>
      <JobBar
        :stage="stage"
        :share="item.sizeBytes ? item.sentBytes / item.sizeBytes : 0"
        :seconds-left="item.secondsLeft"
      />
      <div v-if="item.state !== 'done'" class="acts">
        <button
          v-if="item.state === 'sending' || item.state === 'queued'"
          type="button"
          @click="uploads.pause(item.key)"
        >
          Pause</button
        ><button v-else type="button" @click="uploads.resume(item.key)">Go on</button
        ><button type="button" @click="uploads.cancel(item.key)">Cancel</button>
      </div>
    </template>
  </article>
</template>

<style scoped>
.card {
  display: grid;
  gap: 3px;
  padding: 9px;
  align-content: start;
}
strong {
  overflow-wrap: anywhere;
}
.acts {
  display: flex;
  gap: 14px;
}
.acts button {
  min-height: 40px;
  font-weight: 600;
  color: var(--soft-ink);
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
