<script setup lang="ts">
import { MOST_STRAIGHTEN_DEGREES, type Recipe } from '@apodix/core';
import { computed } from 'vue';
import SliderRow from '../SliderRow.vue';

/** How the picture stands, how level it is, and which part of it is kept. */
const props = defineProps<{
  picture: Recipe['picture'];
  isCropping: boolean;
  /** Proportions that can be locked, the limits' own first. */
  aspects: readonly { readonly label: string; readonly value: number | null }[];
  aspect: number | null;
  isTimed: boolean;
}>();
const emit = defineEmits<{
  turn: [quarters: 1 | -1];
  mirror: [];
  straighten: [degrees: number, isDragging: boolean];
  crop: [];
  aspect: [aspect: number | null];
  reset: [];
}>();
const isPlain = computed(
  () =>
    props.picture.turnDegrees === 0 &&
    !props.picture.isMirrored &&
    props.picture.straightenDegrees === 0 &&
    props.picture.crop === null,
);
const figure = computed(() => {
  const degrees = props.picture.straightenDegrees;
  return degrees === 0 ? 'level' : `${Math.abs(degrees).toFixed(1)}° ${degrees > 0 ? 'right' : 'left'}`;
});
function chooseAspect(event: Event): void {
  const { value } = event.target as HTMLSelectElement;
  emit('aspect', value === '' ? null : Number(value));
}
</script>

<template>
  <section>
    <h2>Upright</h2>
    <div class="pair">
      <v-btn class="quiet" @click="emit('turn', -1)">Turn left</v-btn
      ><v-btn class="quiet" @click="emit('turn', 1)">Turn right</v-btn>
    </div>
    <v-btn class="quiet" :aria-pressed="picture.isMirrored" @click="emit('mirror')">{{
      picture.isMirrored ? 'Mirrored: undo' : 'Mirror'
    }}</v-btn>
    <template v-if="isTimed">
      <SliderRow
        :model-value="picture.straightenDegrees"
        label="Straighten"
        :figure="figure"
        :min="-MOST_STRAIGHTEN_DEGREES"
        :max="MOST_STRAIGHTEN_DEGREES"
        :step="0.1"
        :rest="0"
        @update:model-value="emit('straighten', $event, true)"
        @end="emit('straighten', picture.straightenDegrees, false)"
      />
      <p class="note">No corner stays empty: the picture is enlarged as far as it takes.</p>
    </template>
  </section>
  <section v-if="isTimed">
    <h2>Part that is kept</h2>
    <label class="choice"
      ><span>Proportions</span
      ><select :value="aspect ?? ''" @change="chooseAspect">
        <option v-for="each in aspects" :key="each.label" :value="each.value ?? ''">{{ each.label }}</option>
      </select></label
    >
    <v-btn class="quiet" :aria-pressed="isCropping" @click="emit('crop')">{{
      isCropping ? 'Done' : picture.crop ? 'Change the part' : 'Choose a part'
    }}</v-btn>
    <p v-if="isCropping" class="note">
      Drag the corners or the middle. Arrow keys move it, with Shift they make it larger or smaller.
    </p>
    <p v-else-if="picture.crop" class="note">
      <span class="figures">{{ Math.round(picture.crop.width * picture.crop.height * 100) }} %</span> of the
      picture is kept.
    </p>
  </section>
  <section>
    <v-btn class="quiet" :disabled="isPlain" @click="emit('reset')">Frame as recorded</v-btn>
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
.choice {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
}
select {
  min-height: 40px;
  padding: 0 8px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--sheet);
  color: var(--ink);
}
</style>
