<script setup lang="ts">
import type { Recipe } from '@apodix/core';

/** What can be done to the take on the stage. */
defineProps<{
  recipe: Recipe;
  isTimed: boolean;
  isPicture: boolean;
  hasProposal: boolean;
  canUndo: boolean;
  canRedo: boolean;
  isSaved: boolean;
}>();
const emit = defineEmits<{
  startHere: [];
  finishHere: [];
  keepAllOfIt: [];
  turn: [quarters: 1 | -1];
  mirror: [];
  undo: [];
  redo: [];
  suggested: [];
  asRecorded: [];
}>();
const isBefore = defineModel<boolean>('isBefore', { required: true });
</script>

<template>
  <aside class="tools" aria-label="Tools">
    <section v-if="isTimed">
      <h2>Cut</h2>
      <div class="pair">
        <v-btn class="quiet" @click="emit('startHere')">Start here</v-btn
        ><v-btn class="quiet" @click="emit('finishHere')">Finish here</v-btn>
      </div>
      <p class="note">Stop at the right frame, then press. What is hatched on the strip is left out.</p>
      <v-btn v-if="recipe.spans.length" class="quiet" @click="emit('keepAllOfIt')">Keep all of it</v-btn>
    </section>
    <section v-if="isPicture">
      <h2>Frame</h2>
      <div class="pair">
        <v-btn class="quiet" @click="emit('turn', -1)">Turn left</v-btn
        ><v-btn class="quiet" @click="emit('turn', 1)">Turn right</v-btn>
      </div>
      <v-btn class="quiet" :aria-pressed="recipe.picture.isMirrored" @click="emit('mirror')">{{
        recipe.picture.isMirrored ? 'Mirrored: undo' : 'Mirror'
      }}</v-btn>
    </section>
    <section v-if="recipe.sound.gainDb !== 0">
      <h2>Sound</h2>
      <p>
        {{ recipe.sound.gainDb > 0 ? 'Raised' : 'Lowered' }} by
        <span class="figures">{{ Math.abs(recipe.sound.gainDb).toFixed(1) }} dB</span> to meet the wanted
        level.
      </p>
    </section>
    <section>
      <div class="pair">
        <v-btn class="quiet" :disabled="!canUndo" @click="emit('undo')">Undo</v-btn
        ><v-btn class="quiet" :disabled="!canRedo" @click="emit('redo')">Redo</v-btn>
      </div>
      <div class="pair">
        <v-btn class="quiet" :disabled="!hasProposal" @click="emit('suggested')">Suggested</v-btn
        ><v-btn class="quiet" @click="emit('asRecorded')">As recorded</v-btn>
      </div>
      <v-btn class="quiet" :aria-pressed="isBefore" @click="isBefore = !isBefore">{{
        isBefore ? 'Show the result' : 'Show the recording'
      }}</v-btn>
      <p class="note" role="status">
        {{ isSaved ? 'Kept. The recording itself is never changed.' : 'Keeping…' }}
      </p>
    </section>
  </aside>
</template>

<style scoped>
.tools {
  width: 250px;
  flex: none;
  background: var(--sheet);
  border-left: 1px solid var(--line);
  padding: 16px;
  overflow-y: auto;
  display: grid;
  gap: 18px;
  align-content: start;
}
section {
  display: grid;
  gap: 8px;
}
h2 {
  font-size: 15px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.pair .v-btn {
  min-width: 0;
  padding: 0 6px;
}
@media (max-width: 1000px) {
  .tools {
    width: auto;
    border-left: 0;
    border-top: 1px solid var(--line);
    order: 3;
  }
}
</style>
