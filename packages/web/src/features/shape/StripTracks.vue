<script setup lang="ts">
import type { TakeView, TimeRange } from '@apodix/core';
import { computed } from 'vue';

/** Pictures, sound and movement of what a strip shows, one above the other. */
const props = defineProps<{
  take: TakeView;
  view: TimeRange;
  durationUs: number;
  widthPx: number;
  /** Heights of columns, 0 to 1. */
  sound: readonly number[];
  movement: readonly number[];
  /** LUFS of each column; null in silence. And what is asked for. */
  loudness: readonly (number | null)[];
  wantedLoudness: { readonly min: number | null; readonly max: number | null } | null;
  /** Where the sound was cut off, in pixels. */
  clipped: readonly number[];
}>();
const TILE_PX = 58;
const loudest = computed(() => Math.max(0.2, ...props.sound));
/** All of the take holds the scale, so that coming nearer does not make a still take restless. */
const liveliest = computed(() => Math.max(2, ...props.movement));
/** What the height of the sound's track stands for. */
const LOWEST_LUFS = -50;
const heightOf = (lufs: number) => 60 * Math.max(0, Math.min(1, lufs / LOWEST_LUFS));
const line = computed(() => {
  let isOpen = false;
  return props.loudness
    .map((lufs, index) => {
      if (lufs === null) {
        isOpen = false;
        return '';
      }
      const step = `${isOpen ? 'L' : 'M'}${index * 4 + 2} ${heightOf(lufs).toFixed(1)}`;
      isOpen = true;
      return step;
    })
    .join('');
});
const zone = computed(() => {
  const wanted = props.wantedLoudness;
  if (!wanted) return null;
  const top = heightOf(wanted.max ?? 0);
  return { y: top, height: Math.max(1.5, heightOf(wanted.min ?? LOWEST_LUFS) - top) };
});
const tiles = computed(() => {
  const strip = props.take.filmstrip;
  if (!strip || !props.take.stripUrl || props.widthPx === 0) return [];
  const tileWidth = (TILE_PX * strip.tileWidthPx) / strip.tileHeightPx;
  const count = Math.max(1, Math.ceil(props.widthPx / tileWidth));
  const lengthUs = props.view.finishUs - props.view.startUs;
  return Array.from({ length: count }, (_, index) => {
    const us = props.view.startUs + (((index + 0.5) * tileWidth) / props.widthPx) * lengthUs;
    const tile = Math.floor((us / Math.max(1, props.durationUs)) * strip.tileCount);
    const shown = Math.max(0, Math.min(strip.tileCount - 1, tile));
    return {
      left: index * tileWidth,
      width: tileWidth,
      background: `url(${props.take.stripUrl}) ${-shown * tileWidth}px 0 / ${strip.tileCount * tileWidth}px ${TILE_PX}px no-repeat`,
    };
  });
});
const wave = computed(() => {
  const { movement } = props;
  if (movement.length === 0) return '';
  const points = movement.map((value, index) => `${index * 4} ${22 - (value / liveliest.value) * 20}`);
  return `M0 22 L${points.join(' L')} L${(movement.length - 1) * 4} 22 Z`;
});
</script>

<template>
  <div v-if="tiles.length" class="pictures">
    <span
      v-for="(tile, index) in tiles"
      :key="index"
      :style="{ left: `${tile.left}px`, width: `${tile.width + 0.5}px`, background: tile.background }"
    />
  </div>
  <svg
    class="sound"
    :class="{ alone: !movement.length }"
    :viewBox="`0 0 ${Math.max(1, sound.length * 4)} 60`"
    preserveAspectRatio="none"
    aria-hidden="true"
  >
    <rect
      v-for="(height, index) in sound"
      :key="index"
      :x="index * 4"
      :y="60 - (height / loudest) * 54 - 1"
      width="3"
      :height="(height / loudest) * 54 + 1"
    />
    <rect v-if="zone" class="zone" x="0" :width="sound.length * 4" :y="zone.y" :height="zone.height" />
    <path v-if="line" class="halo" :d="line" />
    <path v-if="line" class="loudness" :d="line" data-testid="loudness" />
  </svg>
  <svg
    v-if="movement.length"
    class="movement"
    :viewBox="`0 0 ${Math.max(1, movement.length * 4)} 22`"
    preserveAspectRatio="none"
    aria-hidden="true"
  >
    <path :d="wave" />
  </svg>
  <span
    v-for="(mark, index) in clipped"
    :key="`clip${index}`"
    class="clipped"
    :style="{ left: `${mark}px` }"
    title="The sound is cut off here: it was recorded too loud."
  />
</template>

<style scoped>
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
  bottom: 26px;
  width: 100%;
  height: 60px;
  pointer-events: none;
}
.sound.alone {
  bottom: 4px;
}
.sound rect {
  fill: color-mix(in srgb, var(--ink) 62%, var(--met));
}
.sound .zone {
  fill: var(--met);
  opacity: 0.22;
}
.loudness,
.halo {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2px;
  vector-effect: non-scaling-stroke;
}
.halo {
  stroke: var(--track);
  stroke-width: 6px;
}
.movement {
  position: absolute;
  left: 0;
  bottom: 2px;
  width: 100%;
  height: 22px;
  pointer-events: none;
}
.movement path {
  fill: var(--saffron-line);
  opacity: 0.75;
}
.clipped {
  position: absolute;
  bottom: 26px;
  width: 3px;
  height: 8px;
  background: var(--madder);
}
</style>
