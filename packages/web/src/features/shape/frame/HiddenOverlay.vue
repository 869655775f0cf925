<script setup lang="ts">
import { findHidden, type Affine, type HiddenArea, type Place, type SizePx } from '@apodix/core';
import { computed, ref } from 'vue';

/** Areas that nobody shall recognise, over the picture: moved, and made larger or smaller, by pointer or keys. */
const props = defineProps<{
  areas: readonly HiddenArea[];
  chosen: number;
  positionUs: number;
  /** From shares of what is on screen to points of the upright recording, and its size. */
  map: Affine;
  size: SizePx;
  /** How the recording lies on screen. */
  placement: Record<string, string>;
}>();
const emit = defineEmits<{
  choose: [index: number];
  move: [index: number, place: Place, isDragging: boolean];
  resize: [index: number, radiusX: number, radiusY: number, isDragging: boolean];
}>();
const box = ref<HTMLElement | null>(null);
const placed = computed(() => props.areas.map((area) => ({ area, ...findHidden(area, props.positionUs) })));
const percent = (share: number) => `${share * 100}%`;
const styleOf = ({ area, x, y }: { area: HiddenArea; x: number; y: number }) => ({
  left: percent(x - area.radiusX),
  top: percent(y - area.radiusY),
  width: percent(2 * area.radiusX),
  height: percent(2 * area.radiusY),
});
let dragging: { index: number; part: 'middle' | 'edge'; dx: number; dy: number } | null = null;

/** Where a pointer stands in the upright recording, in shares of its edges. */
function locate(event: PointerEvent): Place | null {
  const rect = box.value?.getBoundingClientRect();
  if (!rect || rect.width === 0) return null;
  const { a, b, c, d, e, f } = props.map;
  const [u, v] = [(event.clientX - rect.left) / rect.width, (event.clientY - rect.top) / rect.height];
  return { x: (a * u + c * v + e) / props.size.widthPx, y: (b * u + d * v + f) / props.size.heightPx };
}
function begin(event: PointerEvent, index: number, part: 'middle' | 'edge'): void {
  const at = locate(event);
  const own = placed.value[index];
  if (event.button !== 0 || !at || !own) return;
  emit('choose', index);
  dragging = { index, part, dx: own.x - at.x, dy: own.y - at.y };
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
}
function move(event: PointerEvent, isDragging = true): void {
  const at = locate(event);
  const own = dragging && placed.value[dragging.index];
  if (!dragging || !at || !own) return;
  if (dragging.part === 'middle')
    emit('move', dragging.index, { x: at.x + dragging.dx, y: at.y + dragging.dy }, isDragging);
  else {
    // The handle stands on the ellipse at half a right angle.
    const radius = (distance: number) => Math.max(0.02, Math.min(0.5, Math.abs(distance) * Math.SQRT2));
    emit('resize', dragging.index, radius(at.x - own.x), radius(at.y - own.y), isDragging);
  }
}
function end(event: PointerEvent): void {
  if (dragging) move(event, false);
  dragging = null;
}
const STEP = 0.01;
function nudge(event: KeyboardEvent, index: number): void {
  const own = placed.value[index];
  const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (!step || !own) return;
  event.preventDefault();
  event.stopPropagation();
  const [dx = 0, dy = 0] = step.map((each) => each * STEP);
  const size = (radius: number, change: number) => Math.max(0.02, Math.min(0.5, radius + change));
  if (event.shiftKey) emit('resize', index, size(own.area.radiusX, dx), size(own.area.radiusY, -dy), false);
  else emit('move', index, { x: own.x + dx, y: own.y + dy }, false);
}
</script>

<template>
  <div ref="box" class="whole" data-testid="hidden">
    <div class="picture" :style="placement">
      <div
        v-for="(each, index) in placed"
        :key="index"
        class="area"
        :class="{ on: index === chosen }"
        :style="styleOf(each)"
        tabindex="0"
        role="group"
        :aria-label="`Hidden area ${index + 1}`"
        @focus="emit('choose', index)"
        @pointerdown="begin($event, index, 'middle')"
        @pointermove="move"
        @pointerup="end"
        @pointercancel="end"
        @keydown="nudge($event, index)"
      >
        <span
          class="edge"
          @pointerdown.stop="begin($event, index, 'edge')"
          @pointermove.stop="move"
          @pointerup.stop="end"
          @pointercancel.stop="end"
        />
      </div>
    </div>
  </div>
</template>

<style scoped>
.whole {
  position: absolute;
  inset: 0;
  overflow: hidden;
  touch-action: none;
}
.picture {
  position: absolute;
  left: 0;
  top: 0;
  transform-origin: 0 0;
}
.area {
  position: absolute;
  border: 2px dashed #fff;
  border-radius: 50%;
  cursor: move;
}
.area.on {
  border-style: solid;
  box-shadow: 0 0 0 2px var(--ink);
}
.edge {
  position: absolute;
  left: 85.4%;
  top: 85.4%;
  width: 40px;
  height: 40px;
  margin: -20px;
  cursor: nwse-resize;
}
.edge::before {
  content: '';
  position: absolute;
  inset: 12px;
  background: #fff;
  border: 2px solid var(--ink);
  border-radius: 50%;
}
</style>
