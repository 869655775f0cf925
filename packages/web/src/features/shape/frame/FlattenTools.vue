<script setup lang="ts">
import { LEAST_ASPECT, MOST_ASPECT, MOST_BEND, type Flatten, type SeenPiece } from '@apodix/core';
import { computed, ref } from 'vue';
import SliderRow from '../SliderRow.vue';
import { SHEETS } from './useFlatten.ts';

/** Bringing a photographed piece flat. */
const props = defineProps<{
  flatten: Flatten | null;
  /** What was found in it; null where nothing stands out, undefined where nobody looked. */
  seen: SeenPiece | null | undefined;
  isSetting: boolean;
}>();
const emit = defineEmits<{
  start: [];
  setting: [];
  snap: [];
  aspect: [aspect: number | null];
  lens: [factor: number, isDragging: boolean];
  remove: [];
}>();
/** Outward counts up: that is what wide lenses do. */
const bow = computed(() => -(props.flatten?.lens ?? 0));
const bowWords = computed(() => {
  if (bow.value === 0) return 'straight';
  return `${(100 * Math.abs(bow.value)).toFixed(1)} % ${bow.value > 0 ? 'outward' : 'inward'}`;
});
const percent = (share: number) => `${Math.round(share * 100)} %`;
/** Whether the corners are those that were found. */
const isAsFound = computed(
  () => JSON.stringify(props.flatten?.corners) === JSON.stringify(props.seen?.corners),
);
/** Sheets lie as the piece does: upright or across. */
const sheets = computed(() => {
  const isUpright = (props.flatten?.aspect ?? props.seen?.aspect ?? 1) < 1;
  return SHEETS.map(({ label, ratio }) => ({ label, value: isUpright ? 1 / ratio : ratio }));
});
const chosen = computed(() => {
  const own = props.flatten?.aspect ?? null;
  if (own === null) return '';
  const sheet = sheets.value.find(({ value }) => Math.abs(value - own) < 1e-6);
  if (sheet) return String(sheet.value);
  return props.seen && Math.abs(props.seen.aspect - own) < 1e-6 ? 'found' : 'own';
});
/** The size of the piece itself, by its owner. */
const [widthMm, heightMm] = [ref(''), ref('')];
const ownAspect = computed(() => {
  const [width, height] = [widthMm, heightMm].map(({ value }) => Number(value.replace(',', '.')));
  const aspect = (width ?? 0) / (height ?? 0);
  return aspect >= LEAST_ASPECT && aspect <= MOST_ASPECT ? aspect : null;
});
const setSize = () => ownAspect.value !== null && emit('aspect', ownAspect.value);
function choose(event: Event): void {
  const { value } = event.target as HTMLSelectElement;
  if (value === 'own') return;
  if (value === 'found') return emit('aspect', props.seen?.aspect ?? null);
  emit('aspect', value === '' ? null : Number(value));
}
</script>

<template>
  <section>
    <h2>Bring it flat</h2>
    <template v-if="flatten">
      <p v-if="seen && isAsFound" class="note">
        By the four corners that stand out, {{ percent(seen.confidence) }} sure.
      </p>
      <v-btn class="quiet" :aria-pressed="isSetting" @click="emit('setting')">{{
        isSetting ? 'Done' : 'Move the corners'
      }}</v-btn>
      <template v-if="isSetting">
        <p class="note">
          Drag each corner onto that of the piece. Arrow keys move it by a point, with Shift by ten.
        </p>
        <v-btn class="quiet" @click="emit('snap')">Onto the edges beside them</v-btn>
      </template>
      <label class="choice"
        ><span>Proportions</span
        ><select :value="chosen" @change="choose">
          <option value="">by perspective</option>
          <option v-if="seen || chosen === 'found'" value="found">as they were found</option>
          <option v-if="chosen === 'own'" value="own">your own size</option>
          <option v-for="each in sheets" :key="each.label" :value="String(each.value)">
            {{ each.label }}
          </option>
        </select></label
      >
      <form class="size" @submit.prevent="setSize">
        <label>Width <input v-model="widthMm" inputmode="decimal" aria-label="Width in mm" /></label>
        <label>Height <input v-model="heightMm" inputmode="decimal" aria-label="Height in mm" /></label>
        <span>mm</span><v-btn class="quiet" type="submit" :disabled="ownAspect === null">Set</v-btn>
      </form>
      <SliderRow
        :model-value="bow"
        label="Sides bowed by the lens"
        :figure="bowWords"
        :min="-MOST_BEND"
        :max="MOST_BEND"
        :step="0.001"
        :rest="0"
        @update:model-value="emit('lens', -$event, true)"
        @end="emit('lens', -bow, false)"
      />
      <v-btn class="quiet" @click="emit('remove')">As it was photographed</v-btn>
    </template>
    <template v-else>
      <p v-if="seen && !seen.isCutOff" class="note">
        Four corners of a piece stand out, {{ percent(seen.confidence) }} sure.{{
          seen.isBesideSomebody ? ' Somebody may be beside it: nobody is cut away until you press.' : ''
        }}
      </p>
      <p v-else-if="seen" class="note">
        Part of the piece may lie beyond the picture: set its corners by hand.
      </p>
      <p v-else-if="seen === undefined" class="note">
        A piece that was photographed at a slant comes out as from the front.
      </p>
      <p v-else class="note">No piece stands out from what lies around it. Its corners can be set by hand.</p>
      <v-btn class="quiet" @click="emit('start')">{{ seen ? 'Bring it flat' : 'Set the corners' }}</v-btn>
    </template>
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
.size {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  font-size: 14px;
}
.size input {
  width: 62px;
  min-height: 40px;
  padding: 0 8px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--sheet);
  color: var(--ink);
}
</style>
