<script setup lang="ts">
import type { FoundPiece, Guide, SizePx } from '@apodix/core';
import { computed } from 'vue';

/** Dashed frames to line up with, and the piece as it is found, over the picture. */
const props = defineProps<{
  guide: Guide;
  piece: FoundPiece | null;
  size: SizePx | null;
  isMirrored: boolean;
}>();
const turn = (x: number, width = 0) => (props.isMirrored ? 1 - x - width : x);
const shapes = computed(() =>
  props.guide.shapes.map((shape) => ({ ...shape, x: turn(shape.x, shape.width) })),
);
const outline = computed(() => {
  const { piece, size } = props;
  if (!piece || !size) return null;
  return piece.corners
    .map(
      ({ x, y }) => `${(turn(x / size.widthPx) * 100).toFixed(2)},${((y / size.heightPx) * 100).toFixed(2)}`,
    )
    .join(' ');
});
</script>

<template>
  <div class="overlay" aria-hidden="true">
    <template v-if="!outline">
      <div
        v-for="shape in shapes"
        :key="shape.label"
        class="shape"
        :style="{
          left: `${shape.x * 100}%`,
          top: `${shape.y * 100}%`,
          width: `${shape.width * 100}%`,
          height: `${shape.height * 100}%`,
        }"
      >
        <span>{{ shape.label }}</span>
      </div>
    </template>
    <svg v-else viewBox="0 0 100 100" preserveAspectRatio="none">
      <polygon :points="outline" vector-effect="non-scaling-stroke" />
    </svg>
  </div>
</template>

<style scoped>
.overlay {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.shape {
  position: absolute;
  border: 2px dashed rgb(255 255 255 / 90%);
  border-radius: 8px;
}
.shape span {
  position: absolute;
  top: 4px;
  left: 8px;
  color: #fff;
  font-weight: 700;
  font-size: 13px;
  text-shadow: 0 0 3px #000;
}
svg {
  width: 100%;
  height: 100%;
}
polygon {
  fill: rgb(88 188 172 / 14%);
  stroke: #58bcac;
  stroke-width: 3;
}
</style>
