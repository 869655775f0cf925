<script setup lang="ts">
import { countHiddenCells, findHidden, type HiddenArea, type SizePx } from '@apodix/core';
import { onBeforeUnmount, ref, watch } from 'vue';

/** Hidden areas over the picture that is on screen, averaged to the same few cells as in the file. */
const props = defineProps<{
  areas: readonly HiddenArea[];
  positionUs: number;
  size: SizePx;
  /** What shows the picture: the video, or the canvas with its colors put right. */
  source: HTMLVideoElement | HTMLCanvasElement | null;
  isPlaying: boolean;
}>();
const canvas = ref<HTMLCanvasElement | null>(null);
const cells = document.createElement('canvas');
let frame = 0;

function draw(): void {
  const [target, source] = [canvas.value, props.source];
  const context = target?.getContext('2d');
  const small = cells.getContext('2d', { willReadFrequently: true });
  if (!target || !context || !small) return;
  const { width: w, height: h } = target;
  context.clearRect(0, 0, w, h);
  const isReady = source instanceof HTMLVideoElement ? source.readyState >= 2 : source !== null;
  if (!source || !isReady) return;
  const [sw, sh] =
    source instanceof HTMLVideoElement
      ? [source.videoWidth, source.videoHeight]
      : [source.width, source.height];
  for (const area of props.areas) {
    const place = findHidden(area, props.positionUs);
    const [x, y] = [place.x - area.radiusX, place.y - area.radiusY];
    const box = { width: 2 * area.radiusX * w, height: 2 * area.radiusY * h };
    const { across, down } = countHiddenCells(box.width, box.height);
    cells.width = across;
    cells.height = down;
    // A reduction in steps averages; in one go it would pick points.
    small.imageSmoothingEnabled = true;
    small.imageSmoothingQuality = 'high';
    small.drawImage(source, x * sw, y * sh, 2 * area.radiusX * sw, 2 * area.radiusY * sh, 0, 0, across, down);
    context.save();
    context.beginPath();
    context.ellipse(place.x * w, place.y * h, area.radiusX * w, area.radiusY * h, 0, 0, 2 * Math.PI);
    context.clip();
    context.imageSmoothingEnabled = true;
    context.drawImage(cells, x * w, y * h, box.width, box.height);
    context.restore();
  }
}
/** What stands still is looked at again now and then: a frame that was asked for comes when it comes. */
const STILL_MS = 150;
let timer: ReturnType<typeof setTimeout> | undefined;
function follow(): void {
  draw();
  if (props.isPlaying) frame = requestAnimationFrame(follow);
  else timer = setTimeout(follow, STILL_MS);
}
function stop(): void {
  cancelAnimationFrame(frame);
  clearTimeout(timer);
}
watch(
  () => [props.areas, props.positionUs, props.source, props.isPlaying, canvas.value] as const,
  () => {
    stop();
    frame = requestAnimationFrame(follow);
  },
  { immediate: true, flush: 'post' },
);
onBeforeUnmount(stop);
</script>

<template>
  <canvas
    ref="canvas"
    :width="Math.round(size.widthPx)"
    :height="Math.round(size.heightPx)"
    aria-hidden="true"
  />
</template>
