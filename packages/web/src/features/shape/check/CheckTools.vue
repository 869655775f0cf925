<script setup lang="ts">
import { isClearPart, isSoftPart, pickPieceParts, type PhotoFacts, type TakeView } from '@apodix/core';
import { computed } from 'vue';
import MergeTools from './MergeTools.vue';
import { listChecks } from './list-checks.ts';

/** What to look at before a photograph is handed in: how sharp each part is, and what else was seen. */
const props = defineProps<{ take: TakeView; photo: PhotoFacts }>();
const url = computed(() => props.take.proxyUrl);
const rows = computed(() => listChecks(props.photo, props.take.facts?.locationPresent ?? null));
const nameOf = (blur: number) => (isClearPart(blur) ? 'clear' : isSoftPart(blur) ? 'soft' : 'between');
const tiles = computed(() => {
  const { detail } = props.photo;
  if (!detail) return [];
  return pickPieceParts(detail, props.photo.piece).flatMap((blur, tile) => {
    if (blur === null) return [];
    const [x, y] = [tile % detail.columns, Math.floor(tile / detail.columns)];
    return [{ tile, x, y, name: nameOf(blur) }];
  });
});
</script>

<template>
  <section>
    <h2>How sharp it is</h2>
    <figure v-if="photo.detail && url">
      <div class="map" :style="{ aspectRatio: `${photo.widthPx} / ${photo.heightPx}` }">
        <img :src="url" alt="" />
        <svg
          :viewBox="`0 0 ${photo.detail.columns} ${photo.detail.rows}`"
          preserveAspectRatio="none"
          role="img"
          aria-label="Where it is sharp and where it is soft"
          data-testid="sharpness"
        >
          <rect
            v-for="each in tiles"
            :key="each.tile"
            :x="each.x + 0.08"
            :y="each.y + 0.08"
            width="0.84"
            height="0.84"
            :class="each.name"
          />
        </svg>
      </div>
      <figcaption class="note">
        <span class="sign clear" /> sharp <span class="sign between" /> nearly <span class="sign soft" /> soft
        · no frame: nothing to tell by
      </figcaption>
    </figure>
    <p v-else class="note">
      It was brought in before this was looked at. Add it once more to have it checked.
    </p>
  </section>
  <section>
    <h2>Before it is handed in</h2>
    <ul>
      <li v-for="row in rows" :key="row.label" :class="row.state">
        <strong>{{ row.label }}</strong><span>{{ row.figure }}</span>
        <p v-if="row.then" class="note">{{ row.then }}</p>
      </li>
    </ul>
  </section>
  <MergeTools :take="take" />
</template>

<style scoped src="../tools.css"></style>
<style scoped>
figure {
  margin: 0;
  display: grid;
  gap: 6px;
}
.map {
  position: relative;
  background: #000;
}
.map img,
.map svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.map img {
  opacity: 0.75;
}
rect {
  fill: none;
  stroke-width: 2px;
  vector-effect: non-scaling-stroke;
}
rect.clear {
  stroke: #7be0b0;
}
rect.between {
  stroke: #ffe08a;
  stroke-dasharray: 3 2;
}
rect.soft {
  stroke: #fff;
  fill: rgb(180 30 60 / 72%);
}
.sign {
  display: inline-block;
  width: 11px;
  height: 11px;
  vertical-align: -1px;
  border: 2px solid #2f8f63;
}
.sign.between {
  border: 2px dashed #a07a10;
}
.sign.soft {
  border-color: var(--madder);
  background: var(--madder);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 10px;
  border: 0;
  border-left: 3px solid var(--met);
  border-radius: 0;
  padding-left: 9px;
  font-size: 14px;
}
li.short {
  border-color: var(--madder);
}
li.open {
  border-color: var(--line);
}
li p {
  grid-column: 1 / -1;
}
li span {
  font-variant-numeric: tabular-nums;
  text-align: right;
}
</style>
