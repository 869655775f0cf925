<script setup lang="ts">
import type { CaptureMode, ModeChoice } from '@apodix/core';
import { computed } from 'vue';
import { moveRadio } from '../../composables/move-radio.ts';

/** Video, photo or sound: what is chosen cannot be mistaken, what is not wanted stands last and says so. */
const mode = defineModel<CaptureMode>({ required: true });
const props = defineProps<{ modes: readonly ModeChoice[]; isLocked: boolean }>();
const NAMES = { video: 'Video', photo: 'Photo', sound: 'Sound' } as const;
function onKey(event: KeyboardEvent): void {
  const from = props.modes.findIndex((each) => each.mode === mode.value);
  const to = moveRadio(event.key, from, props.modes.length);
  const next = to === null ? undefined : props.modes[to];
  if (!next || props.isLocked) return;
  event.preventDefault();
  mode.value = next.mode;
  const group = event.currentTarget as HTMLElement;
  group.querySelectorAll<HTMLElement>('[role=radio]')[to ?? 0]?.focus();
}
const chosen = computed(() => props.modes.find((each) => each.mode === mode.value));
</script>

<template>
  <div class="switch">
    <div role="radiogroup" aria-label="What to record" @keydown="onKey">
      <button
        v-for="each in modes"
        :key="each.mode"
        type="button"
        role="radio"
        :aria-checked="each.mode === mode"
        :tabindex="each.mode === mode ? 0 : -1"
        :disabled="isLocked"
        :class="{ unwanted: !each.isWanted }"
        :title="each.note ?? undefined"
        @click="mode = each.mode"
      >
        {{ NAMES[each.mode] }}
      </button>
    </div>
    <p v-if="chosen?.note" class="note" role="status">{{ chosen.note }}</p>
  </div>
</template>

<style scoped>
.switch {
  display: flex;
  align-items: center;
  gap: 12px;
  flex-wrap: wrap;
  justify-content: center;
}
[role='radiogroup'] {
  display: flex;
  gap: 2px;
}
button {
  min-height: 40px;
  padding: 0 18px;
  border-radius: 6px;
  font-weight: 700;
  color: #eef1ef;
}
button[aria-checked='true'] {
  background: #fff;
  color: #1b2123;
}
button.unwanted {
  opacity: 0.75;
  font-weight: 400;
}
button:disabled:not([aria-checked='true']) {
  visibility: hidden;
}
.note {
  color: #f0be58;
  font-size: 14px;
}
</style>
