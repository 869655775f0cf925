<script setup lang="ts">
import { cleanDisplayName, formatDuration, isStillKind, type Recipe, type TakeView } from '@apodix/core';
import { useElementSize } from '@vueuse/core';
import { computed, onBeforeUnmount, useTemplateRef } from 'vue';
import { placePicture } from './place-picture.ts';
import type { Playable } from './useFramePlayer.ts';

/** The take on its dark surround, as recorded or as it will be handed in, with what plays it. */
const props = defineProps<{
  take: TakeView;
  recipe: Recipe;
  isBefore: boolean;
  isPlaying: boolean;
  isTimed: boolean;
  positionUs: number;
  frameIndex: number | null;
}>();
const emit = defineEmits<{ element: [element: Playable | null]; toggle: []; step: [count: number] }>();
const MARGIN_PX = 32;
const LEAST_PX = 80;
const stage = useTemplateRef<HTMLElement>('stage');
const { width, height } = useElementSize(stage);
const style = computed(() => {
  const size = props.take.facts?.video ?? props.take.draft?.video ?? props.take.facts?.photo;
  if (!size) return {};
  const box = {
    widthPx: Math.max(LEAST_PX, width.value - MARGIN_PX),
    heightPx: Math.max(LEAST_PX, height.value - MARGIN_PX),
  };
  const { turnDegrees, isMirrored } = props.recipe.picture;
  const placed = props.isBefore
    ? placePicture(size, box, 0, false)
    : placePicture(size, box, turnDegrees, isMirrored);
  return { width: `${placed.widthPx}px`, height: `${placed.heightPx}px`, transform: placed.transform };
});
const tell = (event: Event) => emit('element', event.target as HTMLMediaElement);
onBeforeUnmount(() => emit('element', null));
</script>

<template>
  <div ref="stage" class="surround" data-testid="stage">
    <video
      v-if="(take.kind === 'video' || take.draft?.video) && take.proxyUrl"
      :key="take.id"
      :src="take.proxyUrl"
      :style="style"
      preload="auto"
      playsinline
      @loadeddata="tell"
      @click="emit('toggle')"
    />
    <img
      v-else-if="isStillKind(take.kind) && take.proxyUrl"
      :src="take.proxyUrl"
      :style="style"
      :alt="cleanDisplayName(take.name)"
    />
    <template v-else-if="take.proxyUrl"
      ><audio :key="`a${take.id}`" :src="take.proxyUrl" preload="auto" @loadeddata="tell" />
      <p class="sound-only">Sound only</p></template
    >
    <span class="tag">{{ isBefore ? 'as recorded' : 'as it will be handed in' }}</span>
    <div v-if="isTimed" class="transport">
      <span class="figures">{{ formatDuration(positionUs, 2) }}</span>
      <span class="buttons"
        ><button type="button" @click="emit('step', -1)">‹ frame</button
        ><button type="button" class="play" @click="emit('toggle')">
          {{ isPlaying ? 'Pause' : '▶ Play kept part' }}</button
        ><button type="button" @click="emit('step', 1)">frame ›</button></span
      >
      <span class="figures" data-testid="frame">{{ frameIndex === null ? '' : `frame ${frameIndex}` }}</span>
    </div>
  </div>
</template>

<style scoped>
.surround {
  flex: 1;
  min-width: 0;
  background: var(--surround);
  display: grid;
  place-content: center;
  position: relative;
  overflow: hidden;
  padding-bottom: 44px;
  min-height: 240px;
}
.surround video,
.surround img {
  object-fit: fill;
  max-width: none;
  transform-origin: center;
}
.tag {
  position: absolute;
  top: 14px;
  left: 14px;
  background: rgb(0 0 0 / 62%);
  color: #fff;
  padding: 3px 9px;
  border-radius: 4px;
  font-size: 13px;
}
.sound-only {
  color: #fff;
  font: 700 20px var(--display);
}
.transport {
  position: absolute;
  inset: auto 0 0;
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 4px 18px;
  color: #fff;
  background: rgb(0 0 0 / 42%);
}
.buttons {
  display: flex;
  gap: 4px;
}
.buttons button {
  min-height: 40px;
  padding: 0 10px;
  font-weight: 700;
}
@media (max-width: 1000px) {
  .surround {
    height: 58vw;
    flex: none;
    order: 1;
  }
  .transport {
    padding: 4px 10px;
  }
  .transport [data-testid='frame'] {
    display: none;
  }
  .buttons button {
    white-space: nowrap;
    padding: 0 7px;
  }
}
</style>
