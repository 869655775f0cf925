<script setup lang="ts">
import { LIGHT_WAYS, mapGains, type EvenLight, type SeenLight } from '@apodix/core';
import { useTemplateRef, watchEffect } from 'vue';
import { useLightLeft } from './useLightLeft.ts';

/** How a lamp lights a photograph, and evening that out. */
const props = defineProps<{
  light: EvenLight | null;
  /** What was told of it; null where nothing tells, undefined where nobody looked. */
  seen: SeenLight | null | undefined;
  /** How uneven the light is that is evened out, in shares; null where none is. */
  evened: number | null;
  /** Where the photograph is. */
  url: string | null;
  isUneven: boolean;
  isLoading: boolean;
  /** Photographs that may show a blank sheet in the same place. */
  sheets: readonly { readonly id: string; readonly name: string }[];
}>();
const emit = defineEmits<{ even: []; leave: []; sheet: [takeId: string] }>();
/** How it is lit once that is evened out: looked at only while these tools are on screen. */
const left = useLightLeft(() => {
  const by = props.seen?.by ?? 'sheet';
  return { url: props.url, light: props.light, by: by === 'sheet' ? null : by };
});
const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;
const [map, mapAfter] = [
  useTemplateRef<HTMLCanvasElement>('map'),
  useTemplateRef<HTMLCanvasElement>('after'),
];
const EDGE = 25;
/** How bright each place of the photograph is lit, the brightest white. */
function draw(canvas: HTMLCanvasElement | null, own: EvenLight | null | undefined): void {
  const context = own && canvas?.getContext('2d');
  if (!own || !context) return;
  const { values } = mapGains(own, undefined, EDGE);
  const shares = Array.from({ length: EDGE * EDGE }, (_, place) => 1 / (values[place * 3 + 1] ?? 1));
  const most = Math.max(...shares);
  const pixels = context.createImageData(EDGE, EDGE);
  shares.forEach((share, place) =>
    pixels.data.set([...new Array<number>(3).fill(Math.round((255 * share) / most)), 255], place * 4),
  );
  context.putImageData(pixels, 0, 0);
}
watchEffect(() => draw(map.value, props.light ?? props.seen?.even), { flush: 'post' });
watchEffect(() => draw(mapAfter.value, left.value), { flush: 'post' });
function choose(event: Event): void {
  const select = event.target as HTMLSelectElement;
  if (select.value) emit('sheet', select.value);
  select.value = '';
}
</script>

<template>
  <section>
    <h2>Even light</h2>
    <div v-if="evened !== null || (seen && isUneven)" class="lit">
      <canvas ref="map" :width="EDGE" :height="EDGE" role="img" aria-label="How bright each place is lit" />
      <canvas
        v-if="light && left"
        ref="after"
        :width="EDGE"
        :height="EDGE"
        role="img"
        aria-label="How bright each place is lit after that"
      />
      <p v-if="evened !== null" class="note">
        Darkest place <span class="figures">{{ percent(evened) }}</span> below the brightest<template
          v-if="seen"
          >{{ ' '
          }}<strong
            >→ <span class="figures">{{ percent(seen.after) }}</span></strong
          >, {{ LIGHT_WAYS[seen.by] }}</template
        >, evened out.
      </p>
      <p v-else-if="seen" class="note">
        Its darkest place has <span class="figures">{{ percent(seen.before) }}</span> less light than the
        brightest, {{ LIGHT_WAYS[seen.by] }}.
      </p>
    </div>
    <p v-else-if="seen" class="note">It is lit evenly.</p>
    <p v-else class="note">
      Nothing tells how it was lit: leave a blank margin around the piece, or photograph a blank sheet in its
      place.
    </p>
    <v-btn v-if="light" class="quiet" @click="emit('leave')">As it was lit</v-btn>
    <v-btn v-else-if="isUneven" class="quiet" @click="emit('even')">Even it out</v-btn>
    <label v-if="sheets.length > 0" class="choice"
      ><span>Blank sheet</span
      ><select :disabled="isLoading" @change="choose">
        <option value="">choose its photo</option>
        <option v-for="each in sheets" :key="each.id" :value="each.id">{{ each.name }}</option>
      </select></label
    >
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
.lit {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: start;
}
.lit p {
  flex: 1 1 110px;
}
canvas {
  width: 56px;
  height: 56px;
  flex: none;
  border: 1px solid var(--line);
  border-radius: 4px;
}
</style>
