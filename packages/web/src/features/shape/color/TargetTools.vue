<script setup lang="ts">
import type { TargetFit } from '@apodix/core';
import TargetDialog from './TargetDialog.vue';

/** Colors put right by a target of 24 patches that is in the picture. */
const props = defineProps<{
  fit: TargetFit | null;
  hasTarget: boolean;
  isUsed: boolean;
  isSetting: boolean;
  isShown: boolean;
  lines: readonly string[];
  /** Linear light that each patch should have. */
  wanted: readonly (readonly [number, number, number])[];
  /** The file with values of somebody's own target; null for the published ones. */
  valuesName: string | null;
}>();
const emit = defineEmits<{
  use: [];
  leave: [];
  setting: [];
  show: [isShown: boolean];
  bringValues: [file: File];
}>();
function bring(event: Event): void {
  const input = event.target as HTMLInputElement;
  const [file] = input.files ?? [];
  if (file) emit('bringValues', file);
  input.value = '';
}
</script>

<template>
  <section>
    <h2>Colour target</h2>
    <template v-if="props.fit">
      <p v-for="line in lines" :key="line" class="note">{{ line }}</p>
      <v-btn v-if="!isUsed" class="quiet" @click="emit('use')">Use the target</v-btn>
      <v-btn class="quiet" @click="emit('show', true)">All 24 patches</v-btn>
    </template>
    <p v-else-if="hasTarget" class="note">
      Too few of its patches can be read: it may be covered, too bright or not set at its corners.
    </p>
    <p v-else-if="isUsed" class="note">Colours are put right by a target.</p>
    <p v-else class="note">
      A card of 24 colours in the picture tells how every colour should look. None was found.
    </p>
    <v-btn v-if="isUsed" class="quiet" @click="emit('leave')">Without the target</v-btn>
    <p v-if="isSetting" class="note">
      Drag the corners onto those of the field of colours, first that of the brown patch.
    </p>
    <v-btn class="quiet" :aria-pressed="isSetting" @click="emit('setting')">{{
      isSetting ? 'Done' : 'Set its corners'
    }}</v-btn>
    <label class="bring"
      ><span>{{ valuesName ?? 'Values of your own card' }}</span
      ><input type="file" accept=".json,.csv,.txt" class="unseen" data-testid="patch-values" @change="bring"
    /></label>
    <TargetDialog
      v-if="props.fit"
      :is-open="isShown"
      :fit="props.fit"
      :wanted="wanted"
      @close="emit('show', false)"
    />
  </section>
</template>

<style scoped src="../tools.css"></style>
