<script setup lang="ts">
import {
  formatDuration,
  measureLoudnessCourse,
  type SideMix,
  type RecipeSpan,
  type TakeSeries,
  type TakeView,
  type TimeRange,
} from '@apodix/core';
import { useElementSize } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { listLeftOut } from './cut/parts.ts';
import {
  buildColumns,
  moveEnd,
  moveView,
  placeInstant,
  readInstant,
  showInstant,
  zoomView,
} from './strip-layout.ts';
import StripTracks from './StripTracks.vue';

/**
 * Pictures, sound and movement of a take in one aligned view, from all of it to single frames; what is left
 * out is hatched. Ends of the chosen part can be dragged or moved by keys.
 */
const props = defineProps<{
  take: TakeView;
  series: TakeSeries | null;
  /** Everything that is kept, in its order, and which part is being worked on; other takes' parts too. */
  parts: readonly RecipeSpan[];
  chosen: number;
  durationUs: number;
  positionUs: number;
  frameUs: number;
  gainDb: number;
  mix: SideMix;
  wantedLoudness: { readonly min: number | null; readonly max: number | null } | null;
}>();
const emit = defineEmits<{
  seek: [number];
  range: [range: TimeRange, isDragging: boolean];
  choose: [index: number];
}>();
const view = defineModel<TimeRange>('view', { required: true });
const LEAST_FRAMES = 12;
const COLUMN_PX = 4;
const box = ref<HTMLElement | null>(null);
const { width } = useElementSize(box);
const scale = computed(() => ({ widthPx: width.value, view: view.value }));
const range = computed(() => props.parts[props.chosen] ?? { startUs: 0, finishUs: props.durationUs });
/** Whether the part that is worked on is of this take: else there is nothing of it to pull here. */
const isOwn = computed(() => (props.parts[props.chosen]?.source ?? 0) === 0);
const place = (us: number) => placeInstant(scale.value, us);
const clip = (px: number) => Math.max(-20, Math.min(width.value + 20, px));
const left = computed(() =>
  listLeftOut(
    props.parts.filter((part) => part.source === 0),
    props.durationUs,
  ).map((out) => ({
    left: `${clip(place(out.startUs))}px`,
    width: `${Math.max(0, clip(place(out.finishUs)) - clip(place(out.startUs)))}px`,
  })),
);
const others = computed(() =>
  props.parts.flatMap((part, index) =>
    index === props.chosen || part.source !== 0
      ? []
      : [
          {
            index,
            words: `Part ${index + 1}: ${formatDuration(part.startUs, 1)} to ${formatDuration(part.finishUs, 1)}`,
            style: {
              left: `${clip(place(part.startUs))}px`,
              width: `${Math.max(4, clip(place(part.finishUs)) - clip(place(part.startUs)))}px`,
            },
          },
        ],
  ),
);
const count = computed(() => Math.max(0, Math.floor(width.value / COLUMN_PX)));
const sound = computed(() => {
  const peaks = props.series?.peaks;
  if (!peaks) return [];
  return buildColumns(peaks.peaks, peaks.columnsPerSecond, view.value, count.value).map(Math.sqrt);
});
const movement = computed(() => {
  const own = props.series?.movement;
  return own ? buildColumns(own.change, 1e6 / own.stepUs, view.value, count.value) : [];
});
/** Loudness of three seconds about each column, as it will be handed in. */
const loudness = computed(() => {
  const blocks = props.series?.blocks;
  if (!blocks) return [];
  return measureLoudnessCourse(blocks, view.value, count.value, props.mix).map((level) =>
    level === null ? null : level + props.gainDb,
  );
});
/** Where the sound was cut off at full scale. */
const clipped = computed(() => {
  const blocks = props.series?.blocks;
  if (!blocks) return [];
  const marks: number[] = [];
  blocks.clipped.forEach((tops, index) => {
    const us = blocks.startUs + index * blocks.blockUs;
    if (tops > 0 && us >= view.value.startUs && us <= view.value.finishUs) marks.push(place(us));
  });
  return marks;
});
watch(
  () => props.positionUs,
  (us) => (view.value = showInstant(view.value, us, props.durationUs)),
);
let dragging: 'start' | 'finish' | 'seek' | null = null;

function instantOf(event: PointerEvent | WheelEvent): number {
  return readInstant(scale.value, event.clientX - (box.value?.getBoundingClientRect().left ?? 0));
}
const touches = new Map<number, number>();
let pinched = 0;
function begin(event: PointerEvent, what: 'start' | 'finish' | 'seek'): void {
  if (event.button !== 0) return;
  touches.set(event.pointerId, event.clientX);
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  if (touches.size > 1) {
    dragging = null;
    pinched = measurePinch();
    return;
  }
  dragging = what;
  move(event);
}
const measurePinch = () => {
  const [one = 0, two = 0] = [...touches.values()];
  return Math.max(10, Math.abs(one - two));
};
function move(event: PointerEvent): void {
  if (touches.has(event.pointerId)) touches.set(event.pointerId, event.clientX);
  if (touches.size > 1) {
    const next = measurePinch();
    zoom(next / Math.max(1, pinched), instantOf(event));
    pinched = next;
    return;
  }
  if (dragging === null) return;
  const instant = instantOf(event);
  if (dragging === 'seek') return emit('seek', instant);
  emit('range', moveEnd(range.value, dragging, instant, bounds()), true);
  emit('seek', instant);
}
function end(event: PointerEvent): void {
  touches.delete(event.pointerId);
  if (dragging === 'start' || dragging === 'finish') emit('range', range.value, false);
  dragging = null;
}
const bounds = () => ({ durationUs: props.durationUs, leastUs: props.frameUs });
function zoom(factor: number, aboutUs: number): void {
  const leastUs = LEAST_FRAMES * props.frameUs;
  view.value = zoomView(view.value, factor, aboutUs, { durationUs: props.durationUs, leastUs });
}
function turnWheel(event: WheelEvent): void {
  const lengthUs = view.value.finishUs - view.value.startUs;
  const isSideways = event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY);
  if (isSideways) {
    const byPx = event.shiftKey ? event.deltaY : event.deltaX;
    const startUs = view.value.startUs + (byPx / Math.max(1, width.value)) * lengthUs;
    view.value = moveView(view.value, startUs, props.durationUs);
  } else zoom(Math.exp(-event.deltaY / 300), instantOf(event));
}
const KEY_STEPS: Readonly<Record<string, number>> = {
  ArrowLeft: -1,
  ArrowRight: 1,
  ArrowDown: -1,
  ArrowUp: 1,
  PageDown: -25,
  PageUp: 25,
};
function nudge(event: KeyboardEvent, what: 'start' | 'finish'): void {
  const step = KEY_STEPS[event.key];
  if (step === undefined) return;
  event.preventDefault();
  const from = what === 'start' ? range.value.startUs : range.value.finishUs;
  const instant = from + step * props.frameUs;
  emit('range', moveEnd(range.value, what, instant, bounds()), false);
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
    @wheel.prevent="turnWheel"
  >
    <StripTracks
      :take="take"
      :view="view"
      :duration-us="durationUs"
      :width-px="width"
      :sound="sound"
      :movement="movement"
      :loudness="loudness"
      :wanted-loudness="wantedLoudness"
      :clipped="clipped"
    />
    <div v-for="(out, index) in left" :key="`out${index}`" class="out" :style="out" />
    <button
      v-for="other in others"
      :key="`part${other.index}`"
      type="button"
      class="other"
      :style="other.style"
      :aria-label="other.words"
      @click="emit('choose', other.index)"
    >
      <span>{{ other.index + 1 }}</span>
    </button>
    <button
      v-for="what in isOwn ? (['start', 'finish'] as const) : []"
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
      :style="{ left: `${clip(place(what === 'start' ? range.startUs : range.finishUs))}px` }"
      @pointerdown.stop="begin($event, what)"
      @pointermove.stop="move"
      @pointerup.stop="end"
      @pointercancel.stop="end"
      @keydown="nudge($event, what)"
    >
      <span>{{ what }}</span>
    </button>
    <div class="head" :style="{ left: `${clip(place(positionUs))}px` }" />
  </div>
</template>

<style scoped>
.strip {
  position: relative;
  height: 150px;
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
.other {
  position: absolute;
  inset-block: 0;
  border-inline: 2px solid var(--soft-ink);
}
.other span {
  position: absolute;
  left: 4px;
  top: 60px;
  background: var(--ink);
  color: var(--sheet);
  font-size: 12.5px;
  padding: 1px 7px;
  border-radius: 2px;
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
.quiet .end span,
.quiet .other span {
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
