<script setup lang="ts">
import type { TakeView } from '@apodix/core';
import { ref } from 'vue';
import { useTakeNote } from './useTakeNote.ts';

/** A note about a take: written, or spoken for at most a minute. */
const props = defineProps<{ take: TakeView }>();
const { voice, save, speak, stop, removeVoice } = useTakeNote(() => props.take.id);
const draft = ref<string | null>(null);
function keep(): void {
  const words = draft.value?.trim() ?? '';
  draft.value = null;
  if (words !== (props.take.note ?? '')) void save(words);
}
</script>

<template>
  <div class="note-of-take">
    <form v-if="draft !== null" @submit.prevent="keep" @keydown.esc.stop="draft = null">
      <textarea v-model="draft" rows="2" maxlength="2000" aria-label="Note about this take" autofocus />
      <div class="acts">
        <button type="submit">Keep the note</button>
        <button type="button" @click="draft = null">Leave it</button>
      </div>
    </form>
    <template v-else>
      <p v-if="take.note" class="words">“{{ take.note }}”</p>
      <audio v-if="take.voiceUrl" :src="take.voiceUrl" controls preload="none" />
      <div v-if="voice.state === 'recording'" class="acts" role="status">
        <span class="figures">Speaking {{ voice.secondsLeft }} s left</span>
        <button type="button" @click="stop">Stop</button>
      </div>
      <div v-else class="acts">
        <button type="button" @click="draft = take.note ?? ''">
          {{ take.note ? 'Change the note' : 'Write a note' }}
        </button>
        <button type="button" :disabled="voice.state === 'sending'" @click="speak">
          {{ take.voiceUrl ? 'Speak it anew' : 'Speak a note' }}
        </button>
        <button v-if="take.voiceUrl" type="button" @click="removeVoice">Remove the spoken one</button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.note-of-take {
  display: grid;
  gap: 4px;
  font-size: 13px;
}
.words {
  overflow-wrap: anywhere;
}
textarea {
  width: 100%;
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 6px 8px;
  background: var(--sheet);
  color: inherit;
}
audio {
  width: 100%;
  height: 34px;
}
.acts {
  display: flex;
  gap: 0 12px;
  flex-wrap: wrap;
  align-items: center;
}
.acts button {
  min-height: 40px;
  color: var(--soft-ink);
  text-decoration: underline;
  text-underline-offset: 3px;
}
@media (pointer: fine) {
  .acts button {
    min-height: 26px;
  }
}
</style>
