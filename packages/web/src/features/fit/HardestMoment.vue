<script setup lang="ts">
import { convertSsimToClarity, formatBytes, formatDuration, type MadeView } from '@apodix/core';
import { computed, ref, useTemplateRef, watch } from 'vue';

const props = defineProps<{ made: MadeView }>();
const index = ref(0);
watch(
  () => props.made.id,
  () => (index.value = 0),
);
const moments = computed(() => props.made.moments);
const moment = computed(() => moments.value[Math.min(index.value, moments.value.length - 1)] ?? null);
const pair = useTemplateRef<HTMLElement>('pair');
/** Where the loupe looks, as shares of the picture. */
const spot = ref({ x: 0.5, y: 0.5 });
const isLoupeOn = ref(false);
const size = computed(() =>
  props.made.plan.kind === 'video'
    ? props.made.plan.cut
    : props.made.plan.kind === 'photo'
      ? props.made.plan
      : { widthPx: 1, heightPx: 1 },
);
const LOUPE_PX = 150;

function step(by: number): void {
  const count = moments.value.length;
  if (count > 0) index.value = (index.value + by + count) % count;
}
function follow(event: PointerEvent): void {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
  spot.value = {
    x: Math.max(0, Math.min(1, (event.clientX - box.left) / box.width)),
    y: Math.max(0, Math.min(1, (event.clientY - box.top) / box.height)),
  };
  isLoupeOn.value = true;
}
function onKey(event: KeyboardEvent): void {
  const move = { ArrowLeft: [-0.04, 0], ArrowRight: [0.04, 0], ArrowUp: [0, -0.04], ArrowDown: [0, 0.04] }[
    event.key
  ];
  if (!move) return;
  event.preventDefault();
  isLoupeOn.value = true;
  spot.value = {
    x: Math.max(0, Math.min(1, spot.value.x + (move[0] ?? 0))),
    y: Math.max(0, Math.min(1, spot.value.y + (move[1] ?? 0))),
  };
}
function styleLoupe(url: string): Record<string, string> {
  return {
    left: `${spot.value.x * 100}%`,
    top: `${spot.value.y * 100}%`,
    width: `${LOUPE_PX}px`,
    height: `${LOUPE_PX}px`,
    backgroundImage: `url("${url}")`,
    backgroundSize: `${size.value.widthPx / devicePixelRatio}px ${size.value.heightPx / devicePixelRatio}px`,
    backgroundPosition: `${LOUPE_PX / 2 - (spot.value.x * size.value.widthPx) / devicePixelRatio}px ${LOUPE_PX / 2 - (spot.value.y * size.value.heightPx) / devicePixelRatio}px`,
  };
}
const devicePixelRatio = window.devicePixelRatio || 1;
</script>

<template>
  <section v-if="moment" class="moment" aria-label="Hardest moment">
    <div class="head">
      <h2>
        Hardest moment, <span class="figures">{{ formatDuration(moment.atUs, 1) }}</span>
      </h2>
      <span class="note"
        >clarity {{ convertSsimToClarity(moment.ssim).toFixed(1) }} ·
        {{ Math.min(index, moments.length - 1) + 1 }} of {{ moments.length }}</span
      >
      <span class="steps"
        ><button type="button" aria-label="Harder moment before" @click="step(-1)">‹ before</button
        ><button type="button" aria-label="Next moment" @click="step(1)">next ›</button></span
      >
    </div>
    <div
      ref="pair"
      class="pair"
      tabindex="0"
      aria-label="Loupe: move with the arrow keys"
      @keydown="onKey"
      @pointerleave="isLoupeOn = false"
    >
      <figure
        v-for="[url, label] in [
          [moment.sourceUrl, 'recording'],
          [moment.madeUrl, formatBytes(made.sizeBytes)],
        ] as const"
        :key="label"
        @pointermove="follow"
        @pointerdown="follow"
      >
        <img
          :src="url"
          :alt="label === 'recording' ? 'The recording at this moment' : 'The made file at this moment'"
          draggable="false"
        />
        <span v-if="isLoupeOn" class="loupe" :style="styleLoupe(url)" aria-hidden="true" />
        <figcaption>{{ label }}</figcaption>
      </figure>
    </div>
    <p class="note">Move over a picture, or use the arrow keys, to compare both at full size.</p>
  </section>
</template>

<style scoped>
.moment {
  display: grid;
  gap: 8px;
  min-width: 0;
}
.head {
  display: flex;
  gap: 4px 14px;
  align-items: baseline;
  flex-wrap: wrap;
}
.head h2 {
  font-size: 16px;
}
.steps {
  margin-left: auto;
  display: flex;
  gap: 6px;
}
.steps button {
  min-height: 40px;
  padding: 0 10px;
  border: 1px solid var(--line);
  border-radius: 6px;
  font-size: 13.5px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  border-radius: 4px;
}
figure {
  margin: 0;
  position: relative;
  background: var(--surround);
  overflow: hidden;
  border-radius: 4px;
  touch-action: none;
  cursor: crosshair;
  display: grid;
  place-items: center;
}
figure img {
  width: 100%;
  max-height: 38vh;
  object-fit: contain;
  display: block;
  user-select: none;
}
figcaption {
  position: absolute;
  top: 8px;
  left: 8px;
  background: rgb(0 0 0 / 66%);
  color: #fff;
  font-size: 13px;
  padding: 2px 8px;
  border-radius: 3px;
}
.loupe {
  position: absolute;
  translate: -50% -50%;
  border: 2px solid #fff;
  outline: 1px solid #1b2123;
  border-radius: 50%;
  background-repeat: no-repeat;
  background-color: var(--surround);
  pointer-events: none;
}
@media (max-width: 600px) {
  .pair {
    grid-template-columns: 1fr;
  }
}
</style>
