<script setup lang="ts">
import { MOST_STRAIGHTEN_DEGREES, type Recipe, type WritingWay } from '@apodix/core';
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
  /** Whether it can be straightened and cut: documents cannot. */
  isFramable: boolean;
  /** Whether the take has half pictures, or may have. */
  isInterlaced: boolean;
  /** What would stand it level, as far as lines in the picture tell; null where nothing does. */
  levelDegrees: number | null;
  /** Which way its writing runs, where that is not how it will be handed in; null where all is well. */
  wrongWay: WritingWay | null;
  chosenHidden: number;
  isHidingFull: boolean;
}>();
const emit = defineEmits<{
  turn: [quarters: 1 | -1];
  mirror: [];
  /** So that its writing can be read. */
  stand: [];
  straighten: [degrees: number, isDragging: boolean];
  crop: [];
  aspect: [aspect: number | null];
  reset: [];
  bars: [];
  deinterlace: [way: Recipe['picture']['deinterlace']];
  hide: [];
  chooseHidden: [index: number];
  standHidden: [index: number];
  removeHidden: [index: number];
}>();
const isPlain = computed(
  () =>
    props.picture.turnDegrees === 0 &&
    !props.picture.isMirrored &&
    props.picture.straightenDegrees === 0 &&
    props.picture.crop === null &&
    props.picture.barsTo === null &&
    props.picture.border === 0 &&
    props.picture.hidden.length === 0 &&
    props.picture.steady === null &&
    props.picture.flatten === null &&
    props.picture.deinterlace === 'where-found',
);
function chooseDeinterlace(event: Event): void {
  emit('deinterlace', (event.target as HTMLSelectElement).value as Recipe['picture']['deinterlace']);
}
const write = (degrees: number) => `${Math.abs(degrees).toFixed(1)}° ${degrees > 0 ? 'right' : 'left'}`;
const figure = computed(() => {
  const degrees = props.picture.straightenDegrees;
  return degrees === 0 ? 'as recorded' : write(degrees);
});
function chooseAspect(event: Event): void {
  const { value } = event.target as HTMLSelectElement;
  emit('aspect', value === '' ? null : Number(value));
}
</script>

<template>
  <slot name="first" />
  <section>
    <h2>Upright</h2>
    <template v-if="wrongWay">
      <p class="note">
        <strong>{{
          wrongWay === 'mirrored' ? 'Its writing runs backwards.' : 'Its writing stands on its head.'
        }}</strong>
      </p>
      <v-btn class="quiet" @click="emit('stand')">Put it right</v-btn>
    </template>
    <div class="pair">
      <v-btn class="quiet" @click="emit('turn', -1)">Turn left</v-btn
      ><v-btn class="quiet" @click="emit('turn', 1)">Turn right</v-btn>
    </div>
    <v-btn class="quiet" :aria-pressed="picture.isMirrored" @click="emit('mirror')">{{
      picture.isMirrored ? 'Mirrored: undo' : 'Mirror'
    }}</v-btn>
    <template v-if="isFramable">
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
      <v-btn
        v-if="levelDegrees !== null && Math.abs(levelDegrees - picture.straightenDegrees) > 0.25"
        class="quiet"
        @click="emit('straighten', levelDegrees, false)"
        >Stand it level: {{ write(levelDegrees) }}</v-btn
      >
      <p class="note">No corner stays empty: the picture is enlarged as far as it takes.</p>
    </template>
  </section>
  <section v-if="isFramable">
    <h2>Part that is kept</h2>
    <label class="choice"
      ><span>Proportions</span
      ><select :value="aspect ?? ''" @change="chooseAspect">
        <option v-for="each in aspects" :key="each.label" :value="each.value ?? ''">{{ each.label }}</option>
      </select></label
    >
    <v-btn
      v-if="aspect !== null"
      class="quiet"
      :aria-pressed="picture.barsTo !== null"
      @click="emit('bars')"
      >{{ picture.barsTo === null ? 'Black bars instead of cutting' : 'Cut instead of black bars' }}</v-btn
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
  <section v-if="isTimed">
    <h2>Hide somebody</h2>
    <p v-if="picture.hidden.length === 0" class="note">
      A face that should not be seen is averaged to a few cells: nobody can bring it back.
    </p>
    <ol v-else>
      <li v-for="(area, index) in picture.hidden" :key="index" :class="{ on: index === chosenHidden }">
        <button type="button" class="name" @click="emit('chooseHidden', index)">
          Area {{ index + 1 }}
          <span class="note">{{
            area.path.length === 1 ? 'stands still' : `moves over ${area.path.length} marks`
          }}</span>
        </button>
        <button
          v-if="area.path.length > 1"
          type="button"
          class="small"
          :aria-label="`Let area ${index + 1} stand still`"
          title="Let it stand still here"
          @click="emit('standHidden', index)"
        >
          ⏸
        </button>
        <button
          type="button"
          class="small"
          :aria-label="`Take area ${index + 1} away`"
          @click="emit('removeHidden', index)"
        >
          ×
        </button>
      </li>
    </ol>
    <v-btn class="quiet" :disabled="isHidingFull" @click="emit('hide')">Hide a place</v-btn>
    <p v-if="picture.hidden.length > 0" class="note">
      Drag it over the face. Go on to where the face moves, and drag it again: it follows in between.
    </p>
  </section>
  <section v-if="isInterlaced">
    <h2>Combs at moving edges</h2>
    <label class="choice"
      ><span>Take them out</span
      ><select :value="picture.deinterlace" @change="chooseDeinterlace">
        <option value="where-found">where they were found</option>
        <option value="always">everywhere</option>
        <option value="never">never</option>
      </select></label
    >
  </section>
  <slot />
  <section>
    <v-btn class="quiet" :disabled="isPlain" @click="emit('reset')">Frame as recorded</v-btn>
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
.name {
  flex: 1;
  text-align: left;
  padding: 0 8px;
  min-height: 40px;
}
.small {
  width: 40px;
  min-height: 40px;
}
</style>
