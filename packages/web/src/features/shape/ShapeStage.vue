<script setup lang="ts">
import {
  bendPoint,
  cleanDisplayName,
  formatDuration,
  isPlainColor,
  isStillKind,
  type Place,
  type Crop,
  type Recipe,
  type RgbPicture,
  type Quad,
  type SteadyCourse,
  type TakeView,
} from '@apodix/core';
import { useElementSize } from '@vueuse/core';
import { computed, onBeforeUnmount, ref, shallowRef, toRef, useTemplateRef, watch } from 'vue';
import { readSmall } from './color/load-picture.ts';
import { readShownSize, type ShownPicture } from './color/shown-picture.ts';
import { useColorPreview } from './color/useColorPreview.ts';
import HiddenOverlay from './frame/HiddenOverlay.vue';
import HiddenPreview from './frame/HiddenPreview.vue';
import CornersOverlay from './frame/CornersOverlay.vue';
import CropOverlay from './frame/CropOverlay.vue';
import SplitDivider from './SplitDivider.vue';
import { useSoughtFrame } from './useSoughtFrame.ts';
import { useStagePlacement } from './useStagePlacement.ts';
import type { Playable, Seeker } from './useFramePlayer.ts';

/** The take on its dark surround, as recorded or as it will be handed in, with what plays it. */
const props = defineProps<{
  take: TakeView;
  recipe: Recipe;
  /** How the take itself is steadied; null where it is not. */
  steady: SteadyCourse | null;
  isBefore: boolean;
  isPlaying: boolean;
  isTimed: boolean;
  positionUs: number;
  frameIndex: number | null;
  isCropping: boolean;
  /** Corners of a piece that can be moved; null where they are not. */
  corners: Quad | null;
  cropLock: number | null;
  /** Lines to straighten by. */
  isLeveling: boolean;
  isPicking: boolean;
  isMarked: boolean;
  /** Whether the figures of its light are on screen. */
  isRead: boolean;
  isSplit: boolean;
  /** Other takes whose parts are joined to it, and which of them is on screen. */
  guests: readonly { readonly id: string; readonly url: string }[];
  shownGuest: string | null;
  /** Whether hidden areas can be moved, and which is being worked on. */
  isHiding: boolean;
  chosenHidden: number;
}>();
const emit = defineEmits<{
  element: [element: Playable | null, seeker?: Seeker];
  guest: [id: string, element: Playable | null];
  toggle: [];
  step: [count: number];
  crop: [crop: Crop, isDragging: boolean];
  before: [];
  chooseHidden: [index: number];
  moveHidden: [index: number, place: Place, isDragging: boolean];
  resizeHidden: [index: number, radiusX: number, radiusY: number, isDragging: boolean];
  corners: [corners: Quad, isDragging: boolean];
  pick: [rgb: readonly [number, number, number] | null];
}>();
const stage = useTemplateRef<HTMLElement>('stage');
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const video = shallowRef<HTMLVideoElement | null>(null);
/** What is on screen of the take itself: its video, or its photograph. */
const shown = shallowRef<ShownPicture | null>(null);
const { width, height } = useElementSize(stage);
const { size, placed, windowStyle, style, guestStyle, bars, barStyle, sourceMap } = useStagePlacement(props, {
  width,
  height,
});
const hidden = computed(() => (props.isBefore ? [] : props.recipe.picture.hidden));
const settings = computed(() => (props.isBefore ? null : props.recipe.picture.color));
const isMarked = computed(() => props.isMarked);
const isRead = computed(() => props.isRead);
const light = computed(() => (props.isBefore ? null : props.recipe.picture.light));
/** Corners are set where they are seen: on the picture as the lens bent it. */
const lens = computed(() =>
  props.isBefore || props.corners !== null ? 0 : (props.recipe.picture.flatten?.lens ?? 0),
);
const isColored = computed(() => light.value !== null || lens.value !== 0 || !isPlainColor(settings.value));
const still = useTemplateRef<HTMLCanvasElement>('still');
const sought = useSoughtFrame({
  url: toRef(() => props.take.proxyUrl),
  video,
  canvas: still,
  isPlaying: toRef(() => props.isPlaying),
});
const preview = useColorPreview({
  shown,
  still: computed(() => sought.frame.value && { picture: still.value, frame: sought.frame.value }),
  canvas,
  settings,
  light,
  lens,
  isMarked,
  isRead,
});
const isShown = computed(() => isColored.value && preview.table.value !== null && preview.isDrawn.value);
const divide = ref(50);
const split = computed(() => props.isSplit && isColored.value && !props.isBefore);
/** The picture on screen as it was recorded, small, for looking at; null while there is none. */
const LOOK_EDGE = 480;
function readPicture(): RgbPicture | null {
  const size = shown.value && readShownSize(shown.value);
  return shown.value && size && readSmall(shown.value, size, LOOK_EDGE);
}
defineExpose({ tones: preview.tones, readPicture });

function tell({ target }: Event): void {
  video.value = target instanceof HTMLVideoElement ? target : null;
  shown.value = target instanceof HTMLAudioElement ? null : (target as ShownPicture);
  if (video.value) emit('element', video.value, sought.seeker);
  else if (target instanceof HTMLAudioElement) emit('element', target);
}
watch(
  () => props.take.id,
  () => {
    video.value = null;
    shown.value = null;
  },
);
function press(event: MouseEvent): void {
  if (!props.isPicking) return emit('toggle');
  // The place is asked of the element itself, which lies as the picture does.
  const target = event.currentTarget as HTMLElement;
  const own = { widthPx: target.offsetWidth, heightPx: target.offsetHeight };
  const { x, y } = bendPoint(lens.value, own, { x: event.offsetX, y: event.offsetY });
  const place = { x: x / own.widthPx, y: y / own.heightPx };
  emit('pick', preview.pick(place.x, place.y));
}
onBeforeUnmount(() => emit('element', null));
</script>

<template>
  <div ref="stage" class="surround" data-testid="stage">
    <div
      v-if="placed"
      class="window"
      :class="{ picking: isPicking, cropping: isCropping }"
      :style="windowStyle"
    >
      <div class="inside">
        <video
          v-if="(take.kind === 'video' || take.draft?.video) && take.proxyUrl"
          :key="take.id"
          class="layer"
          :src="take.proxyUrl"
          :style="style"
          preload="auto"
          playsinline
          @loadeddata="tell"
          @click="press"
        />
        <img
          v-else-if="isStillKind(take.kind) && take.proxyUrl"
          class="layer"
          :src="take.proxyUrl"
          :style="style"
          :alt="cleanDisplayName(take.name)"
          @load="tell"
          @click="press"
        />
        <canvas
          v-if="video"
          v-show="sought.isShown.value && shownGuest === null"
          ref="still"
          class="layer still"
          :style="style"
          data-testid="sought"
        />
        <video
          v-for="guest in guests"
          v-show="shownGuest === guest.id && !isBefore"
          :key="guest.id"
          :ref="(element) => emit('guest', guest.id, element as HTMLVideoElement | null)"
          class="layer guest"
          :src="guest.url"
          :style="guestStyle"
          preload="auto"
          playsinline
          @click="emit('toggle')"
        />
        <div
          v-show="shownGuest === null"
          class="veil"
          :style="split ? { clipPath: `inset(0 0 0 ${divide}%)` } : {}"
        >
          <canvas v-show="isShown" ref="canvas" class="layer" :style="style" data-testid="colored" />
          <HiddenPreview
            v-if="hidden.length > 0"
            class="layer"
            :areas="hidden"
            :position-us="positionUs"
            :size="placed.elementPx"
            :source="isShown ? canvas : sought.isShown.value ? still : video"
            :is-playing="isPlaying"
            :style="style"
          />
        </div>
        <div v-if="bars.x > 0 || bars.y > 0" class="bars" :style="barStyle" />
      </div>
      <svg v-if="isLeveling && !isBefore" class="level" viewBox="0 0 60 60" preserveAspectRatio="none">
        <path d="M10 0V60M20 0V60M30 0V60M40 0V60M50 0V60M0 10H60M0 20H60M0 30H60M0 40H60M0 50H60" />
      </svg>
      <CornersOverlay
        v-if="corners && size && take.proxyUrl"
        :corners="corners"
        :size="size"
        :url="take.proxyUrl"
        @move="(next, isDragging) => emit('corners', next, isDragging)"
      />
      <HiddenOverlay
        v-if="isHiding && shownGuest === null && hidden.length > 0 && sourceMap && size"
        :areas="hidden"
        :chosen="chosenHidden"
        :position-us="positionUs"
        :map="sourceMap"
        :size="size"
        :placement="style"
        @choose="emit('chooseHidden', $event)"
        @move="(index, place, isDragging) => emit('moveHidden', index, place, isDragging)"
        @resize="(index, x, y, isDragging) => emit('resizeHidden', index, x, y, isDragging)"
      />
      <CropOverlay
        v-if="isCropping && !isBefore"
        :crop="recipe.picture.crop"
        :lock="cropLock"
        @crop="(crop, isDragging) => emit('crop', crop, isDragging)"
      />
      <template v-if="split">
        <SplitDivider v-model="divide" />
        <span class="tag inner">as recorded</span>
        <span class="tag inner right">as it will be handed in</span>
      </template>
    </div>
    <template v-else-if="take.proxyUrl"
      ><audio :key="`a${take.id}`" :src="take.proxyUrl" preload="auto" @loadeddata="tell" />
      <p class="sound-only">Sound only</p></template
    >
    <button v-if="!split" type="button" class="tag press" :aria-pressed="isBefore" @click="emit('before')">
      {{ isBefore ? 'as recorded' : 'as it will be handed in' }}
      <span class="other">{{ isBefore ? 'show the result' : 'show the recording' }}</span>
    </button>
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
.window {
  position: relative;
}
.inside {
  position: absolute;
  inset: 0;
  overflow: hidden;
}
.layer {
  position: absolute;
  left: 0;
  top: 0;
  object-fit: fill;
  max-width: none;
  transform-origin: 0 0;
}
.still {
  pointer-events: none;
}
.guest {
  object-fit: contain;
  background: #000;
}
.bars {
  position: absolute;
  inset: 0;
  border: 0 solid #000;
  pointer-events: none;
}
.veil {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.picking .layer {
  cursor: crosshair;
}
.level {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}
.level path {
  stroke: rgb(255 255 255 / 55%);
  fill: none;
  vector-effect: non-scaling-stroke;
  stroke-width: 1px;
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
  pointer-events: none;
}
.tag.press {
  pointer-events: auto;
  min-height: 40px;
}
.other {
  text-decoration: underline;
  margin-left: 8px;
}
.tag.right {
  left: auto;
  right: 14px;
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
