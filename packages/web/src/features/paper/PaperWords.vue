<script setup lang="ts">
import type { DoubtfulWord } from '@apodix/core';
import { computed, ref, shallowRef } from 'vue';
import { divideText } from './shift-words.ts';

/** Recognised words to be corrected: doubtful ones are marked, and visited one after another. */
const props = defineProps<{ text: string; doubtful: readonly DoubtfulWord[] }>();
const emit = defineEmits<{ edit: [text: string]; settle: [word: DoubtfulWord] }>();
const area = ref<HTMLTextAreaElement | null>(null);
const scrollTop = ref(0);
const shown = shallowRef<DoubtfulWord | null>(null);
const parts = computed(() => divideText(props.text, props.doubtful));
const count = computed(() => props.doubtful.length);

/** Selects the next doubtful word after the caret, from the first again behind the last. */
function visit(): void {
  const caret = area.value?.selectionEnd ?? 0;
  const sorted = props.doubtful.toSorted((one, other) => one.start - other.start);
  const next = sorted.find(({ start }) => start >= caret) ?? sorted[0];
  if (!next || !area.value) return;
  shown.value = next;
  area.value.focus();
  area.value.setSelectionRange(next.start, next.end);
  // Brings the selection into view where it lies below or above.
  const lines = props.text.slice(0, next.start).split('\n').length - 1;
  const share = lines / Math.max(1, props.text.split('\n').length);
  const room = area.value.scrollHeight - area.value.clientHeight;
  area.value.scrollTop = Math.max(0, Math.min(room, area.value.scrollHeight * share - 60));
}
function keep(): void {
  if (shown.value) emit('settle', shown.value);
  shown.value = null;
  visit();
}
</script>

<template>
  <div class="words">
    <div class="say" aria-live="polite">
      <span v-if="count" class="note"
        ><strong>{{ count }}</strong> {{ count === 1 ? 'word is doubtful' : 'words are doubtful' }}: compare
        with the picture.</span
      ><span v-else class="note">Compare with the picture, and correct what is wrong.</span>
      <span v-if="count" class="acts"
        ><button v-if="shown && doubtful.includes(shown)" type="button" @click="keep">It is right</button
        ><button type="button" @click="visit">{{ shown ? 'Next one' : 'Show the first' }}</button></span
      >
    </div>
    <div class="field">
      <div class="behind" aria-hidden="true">
        <div :style="{ transform: `translateY(${-scrollTop}px)` }">
          <template v-for="(part, at) in parts" :key="at"
            ><mark v-if="part.isMarked">{{ part.text }}</mark
            ><template v-else>{{ part.text }}</template></template
          >{{ '\n' }}
        </div>
      </div>
      <textarea
        ref="area"
        :value="text"
        aria-label="What was read"
        spellcheck="true"
        @input="emit('edit', ($event.target as HTMLTextAreaElement).value)"
        @scroll="scrollTop = ($event.target as HTMLTextAreaElement).scrollTop"
      />
    </div>
  </div>
</template>

<style scoped>
.words {
  display: grid;
  grid-template-rows: auto 1fr;
  gap: 8px;
  min-height: 0;
}
.say {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  min-height: 40px;
  flex-wrap: wrap;
}
.acts {
  display: flex;
  gap: 14px;
}
.acts button {
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.field {
  position: relative;
  min-height: 240px;
  border: 1px solid var(--line);
  border-radius: 6px;
  overflow: hidden;
  background: var(--paper);
}
.field:focus-within {
  border-color: var(--met);
}
.behind,
textarea {
  font: inherit;
  font-size: 15.5px;
  line-height: 1.6;
  padding: 12px 14px;
  white-space: pre-wrap;
  overflow-wrap: break-word;
}
.behind {
  position: absolute;
  inset: 0;
  overflow: hidden;
  color: transparent;
  scrollbar-gutter: stable;
}
.behind mark {
  color: transparent;
  background: var(--saffron-soft);
  border-radius: 2px;
  box-shadow: 0 2px 0 var(--saffron-line);
}
textarea {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  resize: none;
  border: 0;
  outline: 0;
  background: transparent;
  color: var(--ink);
  overflow-y: auto;
  scrollbar-gutter: stable;
}
</style>
