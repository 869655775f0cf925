<script setup lang="ts">
import type { ReadAloud } from './useReadAloud.ts';

/** Reads the instructions aloud, as fast as the person likes. */
const props = defineProps<{ voice: ReadAloud; text: string }>();
function listen(): void {
  if (props.voice.isSpeaking.value) props.voice.stop();
  else props.voice.start(props.text);
}
</script>

<template>
  <template v-if="voice.isThere">
    <label v-if="voice.isSpeaking.value" class="speed"
      >Speed
      <input
        type="range"
        min="0.6"
        max="1.6"
        step="0.1"
        :value="voice.speed.value"
        aria-label="Speed of the voice"
        @input="voice.setSpeed(Number(($event.target as HTMLInputElement).value))"
      /><span class="figures">{{ voice.speed.value.toFixed(1) }}×</span></label
    >
    <v-btn class="quiet" size="small" height="40" :aria-pressed="voice.isSpeaking.value" @click="listen">{{
      voice.isSpeaking.value ? '■ Stop' : '▶ Listen'
    }}</v-btn>
  </template>
</template>

<style scoped>
.speed {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 13px;
}
</style>
