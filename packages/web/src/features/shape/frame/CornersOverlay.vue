<script setup lang="ts">
import type { Quad, SizePx } from '@apodix/core';
import { computed, ref } from 'vue';
import { moveCorner } from './move-corner.ts';

/** The four corners of a piece over its photograph, each moved by pointer or keys, with a loupe. */
const props = defineProps<{
  corners: Quad;
  /** Size of the photograph, for steps of one point. */
  size: SizePx;
  /** Where the photograph on screen is loaded from, for the loupe. */
  url: string;
}>();
const emit = defineEmits<{ move: [corners: Quad, isDragging: boolean] }>();
const NAMES = ['Top left', 'Top right', 'Bottom right', 'Bottom left'] as const;
const MOST_LOUPE_PX = 132;
/** On a small picture it leaves room beside it. */
const LOUPE_SHARE = 0.36;
const LOUPE_TIMES = 4;
const box = ref<HTMLElement | null>(null);
/** The corner that is worked on, shown large; none while nobody does. */
const active = ref<number | null>(null);
const isDragging = ref(false);
const line = computed(() => props.corners.map(({ x, y }) => `${x * 100},${y * 100}`).join(' '));
const place = ({ x, y }: { x: number; y: number }) => ({ left: `${x * 100}%`, top: `${y * 100}%` });

function begin(event: PointerEvent, index: number): void {
  if (event.button !== 0) return;
  active.value = index;
  isDragging.value = true;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
}
function drag(event: PointerEvent, index: number): void {
  const bounds = box.value?.getBoundingClientRect();
  if (!isDragging.value || active.value !== index || !bounds) return;
  const to = {
    x: (event.clientX - bounds.left) / bounds.width,
    y: (event.clientY - bounds.top) / bounds.height,
  };
  emit('move', moveCorner(props.corners, index, to), true);
}
function end(): void {
  if (isDragging.value) emit('move', props.corners, false);
  isDragging.value = false;
}
function nudge(event: KeyboardEvent, index: number): void {
  const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  const corner = props.corners[index];
  if (!step || !corner) return;
  event.preventDefault();
  event.stopPropagation();
  const by = event.shiftKey ? 10 : 1;
  const to = {
    x: corner.x + ((step[0] ?? 0) * by) / props.size.widthPx,
    y: corner.y + ((step[1] ?? 0) * by) / props.size.heightPx,
  };
  emit('move', moveCorner(props.corners, index, to), false);
}
/** The surroundings of the corner, four times as large as on screen, away from the hand. */
const loupe = computed(() => {
  const corner = active.value === null ? null : props.corners[active.value];
  const bounds = box.value?.getBoundingClientRect();
  if (!corner || !bounds) return null;
  const [w, h] = [bounds.width * LOUPE_TIMES, bounds.height * LOUPE_TIMES];
  const edge = Math.min(MOST_LOUPE_PX, LOUPE_SHARE * Math.min(bounds.width, bounds.height));
  return {
    [corner.x < 0.5 ? 'right' : 'left']: '8px',
    [corner.y < 0.5 ? 'bottom' : 'top']: '8px',
    backgroundImage: `url("${props.url}")`,
    backgroundSize: `${w}px ${h}px`,
    width: `${edge}px`,
    height: `${edge}px`,
    backgroundPosition: `${edge / 2 - corner.x * w}px ${edge / 2 - corner.y * h}px`,
  };
});
</script>

<template>
  <div ref="box" class="whole" data-testid="corners">
    <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
      <polygon :points="line" vector-effect="non-scaling-stroke" />
    </svg>
    <button
      v-for="(corner, index) in corners"
      :key="index"
      type="button"
      class="corner"
      :style="place(corner)"
      :aria-label="`${NAMES[index]} corner: ${(corner.x * 100).toFixed(1)} % across, ${(corner.y * 100).toFixed(1)} % down`"
      @pointerdown="begin($event, index)"
      @pointermove="drag($event, index)"
      @pointerup="end"
      @pointercancel="end"
      @keydown="nudge($event, index)"
      @focus="active = index"
      @blur="active = null"
    />
    <div v-if="loupe" class="loupe" :style="loupe"><span /></div>
  </div>
</template>

<style scoped>
.whole {
  position: absolute;
  inset: 0;
}
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
polygon {
  fill: none;
  stroke: #fff;
  stroke-width: 2;
  paint-order: stroke;
  filter: drop-shadow(0 0 1px #000);
}
.corner {
  position: absolute;
  width: 40px;
  height: 40px;
  margin: -20px 0 0 -20px;
  cursor: move;
  touch-action: none;
}
.corner::after {
  content: '';
  position: absolute;
  inset: 12px;
  border: 2px solid #fff;
  border-radius: 50%;
  box-shadow:
    0 0 0 1px #000,
    inset 0 0 0 1px #000;
}
.corner:focus-visible {
  outline: 3px solid var(--saffron-line);
  outline-offset: -6px;
  border-radius: 50%;
}
.loupe {
  position: absolute;
  border: 2px solid #fff;
  border-radius: 6px;
  box-shadow: 0 0 0 1px #000;
  background-repeat: no-repeat;
  background-color: #777;
  pointer-events: none;
}
.loupe span::before,
.loupe span::after {
  content: '';
  position: absolute;
  background: var(--saffron-line);
}
.loupe span::before {
  left: 50%;
  top: 25%;
  width: 1px;
  height: 50%;
}
.loupe span::after {
  top: 50%;
  left: 25%;
  height: 1px;
  width: 50%;
}
</style>
