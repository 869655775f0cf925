<script setup lang="ts">
import { LEAST_STEADY } from '@apodix/core';
import JobBar from '../../../components/JobBar.vue';
import SliderRow from '../SliderRow.vue';

/** Taking the shaking of a hand out. */
defineProps<{
  strength: number | null;
  /** How much of each edge is lost, in shares. */
  lost: number | null;
  /** How far following the camera has come; null while it is not followed. */
  measuring: { readonly stage: string; readonly share: number; readonly secondsLeft: number | null } | null;
}>();
const emit = defineEmits<{ start: []; stop: []; change: [strength: number | null, isDragging: boolean] }>();
</script>

<template>
  <section>
    <h2>A calm hand</h2>
    <JobBar
      v-if="measuring"
      :stage="measuring.stage"
      :share="measuring.share"
      :seconds-left="measuring.secondsLeft"
      can-cancel
      @cancel="emit('stop')"
    />
    <template v-else-if="strength !== null">
      <SliderRow
        :model-value="strength"
        label="Steadied"
        :figure="`${Math.round(strength * 100)} %`"
        :min="LEAST_STEADY"
        :max="1"
        :step="0.05"
        :rest="0.4"
        @update:model-value="emit('change', $event, true)"
        @end="emit('change', strength, false)"
      />
      <p v-if="lost !== null" class="note">
        The outer <span class="figures">{{ (lost * 100).toFixed(1) }} %</span>{{ ' ' }}of width and height are
        lost to it. More keeps still longer; less follows sooner.
      </p>
      <v-btn class="quiet" @click="emit('change', null, false)">As it was held</v-btn>
    </template>
    <template v-else>
      <p class="note">Filmed out of the hand? Its trembling can be taken out, for a little of each edge.</p>
      <v-btn class="quiet" @click="emit('start')">Steady it</v-btn>
    </template>
  </section>
</template>

<style scoped src="../tools.css"></style>
