<script setup lang="ts">
import type { LaidSheet } from '@apodix/core';

/** The pages of a sheet as they will be printed. */
defineProps<{
  laid: LaidSheet;
  /** Pictures by piece; empty while one is being drawn. */
  pictures: readonly string[];
}>();
const isSoft = (role: string) => role === 'caption' || role === 'foot';
</script>

<template>
  <div class="pages">
    <svg
      v-for="(page, number) in laid.pages"
      :key="number"
      class="paper"
      :viewBox="`0 0 ${laid.widthPt} ${laid.heightPt}`"
      role="img"
      :aria-label="`Page ${number + 1} of ${laid.pages.length}`"
    >
      <template v-for="(placed, index) in page" :key="index">
        <template v-if="placed.kind === 'picture'">
          <rect
            v-if="!pictures[placed.piece]"
            class="waiting"
            :x="placed.x"
            :y="placed.y"
            :width="placed.widthPt"
            :height="placed.heightPt"
          />
          <image
            v-else
            :href="pictures[placed.piece]"
            :x="placed.x"
            :y="placed.y"
            :width="placed.widthPt"
            :height="placed.heightPt"
            preserveAspectRatio="none"
          />
        </template>
        <template v-else>
          <text
            v-for="(segment, at) in placed.segments"
            :key="at"
            xml:space="preserve"
            :x="placed.x + segment.x"
            :y="placed.y"
            :font-size="placed.sizePt"
            :font-weight="segment.isBold ? 700 : 400"
            :font-style="segment.isItalic ? 'italic' : 'normal'"
            :class="{ soft: isSoft(placed.role) }"
          >
            {{ segment.text }}
          </text>
        </template>
      </template>
    </svg>
  </div>
</template>

<style scoped>
.pages {
  display: flex;
  flex-wrap: wrap;
  justify-content: center;
  align-items: flex-start;
  gap: 16px;
  padding: 16px;
}
/* Paper is white in every theme: it is what will be printed. */
.paper {
  flex: 0 1 440px;
  min-width: 240px;
  background: #ffffff;
  border-radius: 2px;
}
text {
  font-family: var(--sans);
  fill: #1b2123;
  white-space: pre;
}
.soft {
  fill: #5c6568;
}
.waiting {
  fill: #e6e7e3;
}
</style>
