<script setup lang="ts">
import { computed } from 'vue';

/** One setting on a scale: its name, its figure in words, and back to where it does nothing. */
const props = defineProps<{
  label: string;
  figure: string;
  min: number;
  max: number;
  step: number;
  /** Where it does nothing; marked on the scale, and reached by a double press. */
  rest: number;
}>();
const value = defineModel<number>({ required: true });
const emit = defineEmits<{ end: [] }>();
const rested = computed(() => ((props.rest - props.min) / (props.max - props.min)) * 100);
function change(event: Event): void {
  value.value = Number((event.target as HTMLInputElement).value);
}
function reset(): void {
  value.value = props.rest;
  emit('end');
}
</script>

<template>
  <label class="row" @dblclick="reset"
    ><span class="name"
      ><strong>{{ label }}</strong
      ><span class="figures">{{ figure }}</span></span
    ><span class="scale" :style="{ '--rest': rested }"
      ><input
        type="range"
        :min="min"
        :max="max"
        :step="step"
        :value="value"
        :aria-valuetext="figure"
        @input="change"
        @change="emit('end')" /></span
  ></label>
</template>

<style scoped>
.row {
  display: block;
}
.name {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  font-size: 14px;
}
.scale {
  display: block;
  position: relative;
}
.scale::before {
  content: '';
  position: absolute;
  left: calc(9px + (100% - 18px) * var(--rest) / 100);
  top: 5px;
  height: 16px;
  width: 2px;
  background: var(--soft-ink);
  opacity: 0.6;
}
input {
  position: relative;
  appearance: none;
  width: 100%;
  height: 26px;
  margin: 0;
  vertical-align: top;
  background: none;
  cursor: pointer;
}
input::-webkit-slider-runnable-track {
  height: 6px;
  border-radius: 3px;
  background: var(--track);
}
input::-moz-range-track {
  height: 6px;
  border-radius: 3px;
  background: var(--track);
}
input::-webkit-slider-thumb {
  appearance: none;
  width: 18px;
  height: 18px;
  margin-top: -6px;
  border-radius: 50%;
  background: var(--ink);
  border: 2px solid var(--sheet);
}
input::-moz-range-thumb {
  width: 14px;
  height: 14px;
  border-radius: 50%;
  background: var(--ink);
  border: 2px solid var(--sheet);
}
</style>
