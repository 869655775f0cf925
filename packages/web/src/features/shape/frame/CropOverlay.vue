<script setup lang="ts">
import { LEAST_CROP_SHARE, type Crop } from '@apodix/core';
import { computed, ref } from 'vue';
import { moveCrop, type CropPart } from './move-crop.ts';

/** The part that is kept, drawn over the whole picture: moved and sized by pointer or keys. */
const props = defineProps<{
  crop: Crop | null;
  /** Width to height in shares of the picture's edges, where it is locked. */
  lock: number | null;
}>();
const emit = defineEmits<{ crop: [crop: Crop, isDragging: boolean] }>();
const box = ref<HTMLElement | null>(null);
const own = computed<Crop>(() => props.crop ?? { x: 0, y: 0, width: 1, height: 1 });
const percent = (share: number) => `${share * 100}%`;
const style = computed(() => ({
  left: percent(own.value.x),
  top: percent(own.value.y),
  width: percent(own.value.width),
  height: percent(own.value.height),
}));
const corners = ['nw', 'ne', 'sw', 'se'] as const;
let dragging: { part: CropPart; from: Crop; x: number; y: number } | null = null;

function begin(event: PointerEvent, part: CropPart): void {
  if (event.button !== 0) return;
  dragging = { part, from: own.value, x: event.clientX, y: event.clientY };
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
}
function move(event: PointerEvent): void {
  const size = box.value?.getBoundingClientRect();
  if (!dragging || !size || size.width === 0) return;
  const dx = (event.clientX - dragging.x) / size.width;
  const dy = (event.clientY - dragging.y) / size.height;
  emit('crop', moveCrop(dragging.from, dragging.part, dx, dy, props.lock), true);
}
function end(): void {
  if (dragging) emit('crop', own.value, false);
  dragging = null;
}
const STEP = 0.01;
function nudge(event: KeyboardEvent): void {
  const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (!step) return;
  event.preventDefault();
  event.stopPropagation();
  const [dx = 0, dy = 0] = step.map((each) => each * STEP);
  emit('crop', moveCrop(own.value, event.shiftKey ? 'se' : 'move', dx, dy, props.lock), false);
}
const words = computed(
  () =>
    `${Math.round(own.value.width * 100)} % wide, ${Math.round(own.value.height * 100)} % high, ` +
    `at least ${LEAST_CROP_SHARE * 100} %`,
);
</script>

<template>
  <div ref="box" class="whole" data-testid="crop">
    <div class="shade"><div class="left" :style="style" /></div>
    <div
      class="part"
      :style="style"
      tabindex="0"
      role="group"
      :aria-label="`Part that is kept: ${words}`"
      @pointerdown="begin($event, 'move')"
      @pointermove="move"
      @pointerup="end"
      @pointercancel="end"
      @keydown="nudge"
    >
      <span v-for="line in ['a', 'b', 'c', 'd']" :key="line" class="line" :class="line" />
      <span
        v-for="corner in corners"
        :key="corner"
        class="corner"
        :class="corner"
        @pointerdown.stop="begin($event, corner)"
        @pointermove.stop="move"
        @pointerup.stop="end"
        @pointercancel.stop="end"
      />
    </div>
  </div>
</template>

<style scoped>
.whole {
  position: absolute;
  inset: 0;
  touch-action: none;
}
.shade {
  position: absolute;
  inset: 0;
  overflow: hidden;
  pointer-events: none;
}
.left {
  position: absolute;
  box-shadow: 0 0 0 4000px rgb(0 0 0 / 55%);
}
.part {
  position: absolute;
  outline: 2px solid #fff;
  cursor: move;
}
.part:focus-visible {
  outline: 3px solid rgb(var(--v-theme-primary));
}
.line {
  position: absolute;
  background: rgb(255 255 255 / 40%);
  pointer-events: none;
}
.line.a,
.line.b {
  inset-block: 0;
  width: 1px;
}
.line.c,
.line.d {
  inset-inline: 0;
  height: 1px;
}
.line.a {
  left: 33.3%;
}
.line.b {
  left: 66.6%;
}
.line.c {
  top: 33.3%;
}
.line.d {
  top: 66.6%;
}
.corner {
  position: absolute;
  width: 40px;
  height: 40px;
}
.corner::before {
  content: '';
  position: absolute;
  inset: 12px;
  background: #fff;
  border: 2px solid var(--ink);
  border-radius: 50%;
}
.nw {
  left: -20px;
  top: -20px;
  cursor: nwse-resize;
}
.ne {
  right: -20px;
  top: -20px;
  cursor: nesw-resize;
}
.sw {
  left: -20px;
  bottom: -20px;
  cursor: nesw-resize;
}
.se {
  right: -20px;
  bottom: -20px;
  cursor: nwse-resize;
}
</style>
