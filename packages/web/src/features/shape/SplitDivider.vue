<script setup lang="ts">
/** The line between before and after, moved by hand or by arrow keys; in percent of the width. */
const divide = defineModel<number>({ required: true });
const [LEAST, MOST, STEP] = [2, 98, 2];
const set = (percent: number) => (divide.value = Math.max(LEAST, Math.min(MOST, percent)));

let isDividing = false;
function move(event: PointerEvent): void {
  if (!isDividing) return;
  const box = (event.currentTarget as HTMLElement).parentElement?.getBoundingClientRect();
  if (box) set(((event.clientX - box.left) / box.width) * 100);
}
function begin(event: PointerEvent): void {
  isDividing = true;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
}
function nudge(event: KeyboardEvent): void {
  const step = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
  if (step === undefined) return;
  event.preventDefault();
  set(divide.value + step);
}
</script>

<template>
  <div
    class="divide"
    role="slider"
    tabindex="0"
    aria-label="Before to the left, after to the right"
    :aria-valuenow="Math.round(divide)"
    aria-valuemin="0"
    aria-valuemax="100"
    :style="{ left: `${divide}%` }"
    @pointerdown="begin"
    @pointermove="move"
    @pointerup="isDividing = false"
    @pointercancel="isDividing = false"
    @keydown="nudge"
  />
</template>

<style scoped>
.divide {
  position: absolute;
  inset-block: 0;
  width: 24px;
  margin-left: -12px;
  cursor: ew-resize;
  touch-action: none;
}
.divide::before {
  content: '';
  position: absolute;
  inset-block: 0;
  left: 11px;
  width: 2px;
  background: #fff;
}
</style>
