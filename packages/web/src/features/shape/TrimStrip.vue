<script setup lang="ts">
import { formatDuration, type TakeView, type TimeRange } from '@apodix/core';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { buildColumns, moveEnd, placeInstant, readInstant } from './strip-layout.ts';

/**
 * Pictures and sound of a take in one aligned view; what is left out is hatched. Ends can be dragged or moved
 * by keys.
 */
const props = defineProps<{
  take: TakeView;
  peaks: readonly number[];
  range: TimeRange;
  durationUs: number;
  positionUs: number;
  frameUs: number;
}>();
const emit = defineEmits<{ seek: [number]; range: [range: TimeRange, isDragging: boolean] }>();
const box = ref<HTMLElement | null>(null);
const { width } = useElementSize(box);
const scale = computed(() => ({ widthPx: width.value, durationUs: props.durationUs }));
const startX = computed(() => placeInstant(scale.value, props.range.startUs));
const finishX = computed(() => placeInstant(scale.value, props.range.finishUs));
const headX = computed(() => placeInstant(scale.value, props.positionUs));
const columns = computed(() => buildColumns(props.peaks, Math.max(0, Math.floor(width.value / 4))));
const loudest = computed(() => Math.max(0.2, ...columns.value));
const tiles = computed(() => {
  const strip = props.take.filmstrip;
  if (!strip || !props.take.stripUrl || width.value === 0) return [];
  const tileWidth = (58 * strip.tileWidthPx) / strip.tileHeightPx;
  const count = Math.max(1, Math.ceil(width.value / tileWidth));
  return Array.from({ length: count }, (_, index) => {
    const tile = Math.min(strip.tileCount - 1, Math.floor(((index + 0.5) / count) * strip.tileCount));
    return {
      left: index * tileWidth,
      width: tileWidth,
      background: `url(${props.take.stripUrl}) ${-tile * tileWidth}px 0 / ${strip.tileCount * tileWidth}px 58px no-repeat`,
    };
  });
});
let dragging: 'start' | 'finish' | 'seek' | null = null;

function instantOf(event: PointerEvent): number {
  return readInstant(scale.value, event.clientX - (box.value?.getBoundingClientRect().left ?? 0));
}
function begin(event: PointerEvent, what: 'start' | 'finish' | 'seek'): void {
  if (event.button !== 0) return;
  dragging = what;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  move(event);
}
function move(event: PointerEvent): void {
  if (dragging === null) return;
  const instant = instantOf(event);
  if (dragging === 'seek') return emit('seek', instant);
  emit(
    'range',
    moveEnd(props.range, dragging, instant, { durationUs: props.durationUs, leastUs: props.frameUs }),
    true,
  );
  emit('seek', instant);
}
function end(): void {
  if (dragging === 'start' || dragging === 'finish') emit('range', props.range, false);
  dragging = null;
}
function nudge(event: KeyboardEvent, what: 'start' | 'finish'): void {
  const step = (
    { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1, PageDown: -25, PageUp: 25 } as Record<
      string,
      number
    >
  )[event.key];
  if (step === undefined) return;
  event.preventDefault();
  const from = what === 'start' ? props.range.startUs : props.range.finishUs;
  const instant = from + step * props.frameUs;
  emit(
    'range',
    moveEnd(props.range, what, instant, { durationUs: props.durationUs, leastUs: props.frameUs }),
    false,
  );
  emit('seek', what === 'start' ? instant : instant - props.frameUs);
}
</script>

<template>
  <div
    ref="box"
    class="strip"
    :class="{ quiet: !take.stripUrl }"
    @pointerdown.self="begin($event, 'seek')"
    @pointermove="move"
    @pointerup="end"
    @pointercancel="end"
  >
    <div v-if="tiles.length" class="pictures">
      <span
        v-for="(tile, index) in tiles"
        :key="index"
        :style="{ left: `${tile.left}px`, width: `${tile.width + 0.5}px`, background: tile.background }"
      />
    </div>
    <svg
      class="sound"
      :viewBox="`0 0 ${Math.max(1, columns.length * 4)} 60`"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <rect
        v-for="(height, index) in columns"
        :key="index"
        :x="index * 4"
        :y="60 - (height / loudest) * 54 - 1"
        width="3"
        :height="(height / loudest) * 54 + 1"
      />
    </svg>
    <div class="out" :style="{ left: 0, width: `${startX}px` }" />
    <div class="out" :style="{ left: `${finishX}px`, right: 0 }" />
    <button
      v-for="what in ['start', 'finish'] as const"
      :key="what"
      type="button"
      class="end"
      :class="what"
      role="slider"
      :aria-label="what === 'start' ? 'Start' : 'Finish'"
      :aria-valuemin="0"
      :aria-valuemax="Math.round(durationUs / 1000)"
      :aria-valuenow="Math.round((what === 'start' ? range.startUs : range.finishUs) / 1000)"
      :aria-valuetext="formatDuration(what === 'start' ? range.startUs : range.finishUs, 2)"
      :style="{ left: `${what === 'start' ? startX : finishX}px` }"
      @pointerdown.stop="begin($event, what)"
      @pointermove.stop="move"
      @pointerup.stop="end"
      @pointercancel.stop="end"
      @keydown="nudge($event, what)"
    >
      <span>{{ what }}</span>
    </button>
    <div class="head" :style="{ left: `${headX}px` }" />
  </div>
</template>

<style scoped>
.strip {
  position: relative;
  height: 128px;
  background: var(--track);
  border-radius: 4px;
  overflow: hidden;
  cursor: pointer;
  touch-action: none;
  user-select: none;
}
.strip.quiet {
  height: 84px;
}
.pictures {
  position: absolute;
  inset: 0 0 auto;
  height: 58px;
  pointer-events: none;
  overflow: hidden;
}
.pictures span {
  position: absolute;
  top: 0;
  height: 58px;
}
.sound {
  position: absolute;
  left: 0;
  bottom: 4px;
  width: 100%;
  height: 60px;
  pointer-events: none;
}
.sound rect {
  fill: color-mix(in srgb, var(--ink) 62%, var(--met));
}
.out {
  position: absolute;
  inset-block: 0;
  pointer-events: none;
  background: repeating-linear-gradient(
    -45deg,
    color-mix(in srgb, var(--sheet) 88%, transparent) 0 8px,
    color-mix(in srgb, var(--track) 74%, transparent) 8px 16px
  );
}
.end {
  position: absolute;
  inset-block: 0;
  width: 24px;
  margin-left: -12px;
  cursor: ew-resize;
  touch-action: none;
}
.end::before {
  content: '';
  position: absolute;
  inset-block: 0;
  left: 10px;
  width: 4px;
  background: var(--met);
}
.end span {
  position: absolute;
  top: 60px;
  background: rgb(var(--v-theme-primary));
  color: rgb(var(--v-theme-on-primary));
  font-size: 12.5px;
  padding: 1px 6px;
  border-radius: 2px;
}
.quiet .end span {
  top: 2px;
}
.end.start span {
  left: 14px;
}
.end.finish span {
  right: 14px;
}
.head {
  position: absolute;
  inset-block: 0;
  width: 3px;
  margin-left: -1px;
  background: var(--sheet);
  border-inline: 1px solid var(--ink);
  pointer-events: none;
}
</style>
