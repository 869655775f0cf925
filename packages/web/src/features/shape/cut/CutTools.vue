<script setup lang="ts">
import { formatDuration, type CutPlace, type RecipeSpan } from '@apodix/core';
import { ref, watch } from 'vue';
import { parseTime } from './parse-time.ts';
import { measureParts } from './parts.ts';

/** Where what is kept starts and finishes, to the frame, and of which parts it is made. */
const props = defineProps<{
  parts: readonly RecipeSpan[];
  chosen: number;
  isAll: boolean;
  /** Why there may be only one part; null where there may be several. */
  oneTakeWords: string | null;
  /** By how much it is too long, and where it could end. */
  overUs: number;
  /** How often it was pressed on without an answer. */
  asked: number;
  places: readonly CutPlace[];
  /** By how much it is too short. */
  underUs: number;
  isLooping: boolean;
  speed: number;
  hasPicture: boolean;
  isTakingStill: boolean;
  /** Whether the part that is worked on is of the take on screen. */
  isOwnPart: boolean;
  /** The take that each part is of; null for the one on screen. */
  partNames: readonly (string | null)[];
  /** Takes that a part can be joined from. */
  joinable: readonly { readonly id: string; readonly name: string }[];
}>();
const emit = defineEmits<{
  startHere: [];
  finishHere: [];
  keepAllOfIt: [];
  times: [startUs: number, finishUs: number];
  split: [];
  choose: [index: number];
  remove: [index: number];
  reorder: [from: number, to: number];
  cutAt: [place: CutPlace];
  loop: [];
  speed: [speed: number];
  still: [];
  add: [takeId: string];
  dissolve: [us: number | null];
}>();
/** How a part may begin: at once, or over what comes before it. */
const joints = [
  { label: 'a cut', us: 0 },
  ...[0.5, 1, 2].map((seconds) => ({ label: `a dissolve of ${seconds} s`, us: seconds * 1e6 })),
];
const speeds = [0.25, 0.5, 0.75, 1, 1.5, 2];
const typed = ref({ start: '', finish: '' });
const wrong = ref(false);
// By what they say: parts come anew whenever something else of the take does, while somebody is typing.
watch(
  [() => props.chosen, () => props.parts[props.chosen]?.startUs, () => props.parts[props.chosen]?.finishUs],
  ([, startUs, finishUs]) => {
    if (startUs !== undefined && finishUs !== undefined)
      typed.value = { start: formatDuration(startUs, 2), finish: formatDuration(finishUs, 2) };
    wrong.value = false;
  },
  { immediate: true },
);
function take(): void {
  const [startUs, finishUs] = [parseTime(typed.value.start), parseTime(typed.value.finish)];
  wrong.value = startUs === null || finishUs === null || finishUs <= startUs;
  if (!wrong.value && startUs !== null && finishUs !== null) emit('times', startUs, finishUs);
}
function join(event: Event): void {
  const choice = event.target as HTMLSelectElement;
  if (choice.value) emit('add', choice.value);
  choice.value = '';
}
let dragged = -1;
function drop(index: number): void {
  if (dragged >= 0 && dragged !== index) emit('reorder', dragged, index);
  dragged = -1;
}
</script>

<template>
  <section v-if="overUs > 0" :key="asked" class="ask" :class="{ again: asked > 0 }" role="alert">
    <h2>{{ formatDuration(overUs, 1) }} too long</h2>
    <p class="note">Nothing is cut until you say where. It could end at:</p>
    <v-btn v-for="place in places" :key="place.atUs" class="quiet" @click="emit('cutAt', place)"
      ><span class="figures">{{ formatDuration(place.atUs, 1) }}</span
      >&nbsp;{{ place.reason }}</v-btn
    >
  </section>
  <section v-else-if="underUs > 0" class="ask" role="alert">
    <h2>{{ formatDuration(underUs, 1) }} too short</h2>
    <p class="note">Keep more of it, or record it again: nothing can be added.</p>
  </section>
  <section>
    <h2>Start and finish</h2>
    <div class="pair">
      <v-btn class="quiet" :disabled="!isOwnPart" @click="emit('startHere')">Start here</v-btn
      ><v-btn class="quiet" :disabled="!isOwnPart" @click="emit('finishHere')">Finish here</v-btn>
    </div>
    <form class="pair" @submit.prevent="take">
      <label
        ><span class="note">Start</span
        ><input v-model="typed.start" class="figures" inputmode="decimal" @change="take" /></label
      ><label
        ><span class="note">Finish</span
        ><input v-model="typed.finish" class="figures" inputmode="decimal" @change="take"
      /></label>
      <button type="submit" class="unseen" tabindex="-1">Set</button>
    </form>
    <p v-if="wrong" class="wrong" role="alert">Write a time as 1:02.5, the finish after the start.</p>
    <v-btn v-if="!isAll" class="quiet" @click="emit('keepAllOfIt')">Keep all of it</v-btn>
  </section>
  <section>
    <h2>Parts</h2>
    <template v-if="oneTakeWords && parts.length === 1"
      ><p class="note">{{ oneTakeWords }}</p></template
    >
    <template v-else>
      <ol v-if="parts.length > 1">
        <li
          v-for="(part, index) in parts"
          :key="`${part.source}-${part.startUs}-${part.finishUs}`"
          :class="{ on: index === chosen }"
          draggable="true"
          @dragstart="dragged = index"
          @dragover.prevent
          @drop.prevent="drop(index)"
        >
          <button type="button" class="times figures" @click="emit('choose', index)">
            <span v-if="partNames[index]" class="of">{{ partNames[index] }}</span>
            {{ formatDuration(part.startUs, 1) }} → {{ formatDuration(part.finishUs, 1) }}
          </button>
          <button
            type="button"
            class="small"
            :disabled="index === 0"
            :aria-label="`Part ${index + 1} earlier`"
            @click="emit('reorder', index, index - 1)"
          >
            ↑
          </button>
          <button
            type="button"
            class="small"
            :disabled="index === parts.length - 1"
            :aria-label="`Part ${index + 1} later`"
            @click="emit('reorder', index, index + 1)"
          >
            ↓
          </button>
          <button
            type="button"
            class="small"
            :aria-label="`Leave out part ${index + 1}`"
            @click="emit('remove', index)"
          >
            ×
          </button>
        </li>
      </ol>
      <label v-if="chosen > 0" class="choice"
        ><span>Part {{ chosen + 1 }} begins with</span
        ><select
          :value="parts[chosen]?.dissolveUs ?? 0"
          @change="emit('dissolve', Number(($event.target as HTMLSelectElement).value) || null)"
        >
          <option v-for="each in joints" :key="each.us" :value="each.us">{{ each.label }}</option>
        </select></label
      >
      <p v-if="parts[chosen]?.dissolveUs && chosen > 0" class="note">
        It goes over from the part before, in picture and sound. You see it in the made file.
      </p>
      <p v-if="parts.length > 1" class="note">
        Together <span class="figures">{{ formatDuration(measureParts(parts), 1) }}</span>. Drag a part to
        another place.
      </p>
      <p v-if="oneTakeWords && parts.length > 1" class="wrong">{{ oneTakeWords }}</p>
      <v-btn class="quiet" @click="emit('split')">Divide here</v-btn>
      <p class="note">Then pull the ends apart: what lies between is left out, without a click.</p>
      <label v-if="joinable.length > 0" class="join"
        ><span class="note">Add a part of another take</span
        ><select value="" @change="join">
          <option value="" disabled>Choose a take</option>
          <option v-for="each in joinable" :key="each.id" :value="each.id">{{ each.name }}</option>
        </select></label
      >
    </template>
  </section>
  <section>
    <h2>Look and listen</h2>
    <v-btn class="quiet" :aria-pressed="isLooping" @click="emit('loop')">{{
      isLooping ? 'Playing over and over' : 'Play over and over'
    }}</v-btn>
    <label class="choice"
      ><span>Speed</span
      ><select :value="speed" @change="emit('speed', Number(($event.target as HTMLSelectElement).value))">
        <option v-for="each in speeds" :key="each" :value="each">{{ each }} ×</option>
      </select></label
    >
    <p class="note">Only for looking: the file plays as it was recorded.</p>
    <v-btn v-if="hasPicture" class="quiet" :loading="isTakingStill" @click="emit('still')"
      >Take this frame as a photo</v-btn
    >
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
.again {
  outline: 3px solid var(--saffron-line);
}
.ask {
  background: var(--saffron-soft);
  border: 1px solid var(--saffron-line);
  border-radius: 6px;
  padding: 10px 12px;
}
input,
select {
  width: 100%;
  min-height: 40px;
  padding: 0 8px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--sheet);
  color: var(--ink);
}
select {
  width: auto;
}
label {
  display: block;
}
.join select {
  width: 100%;
}
.of {
  display: block;
  font-weight: 700;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.wrong {
  color: var(--madder);
  font-size: 13px;
}
li {
  cursor: grab;
}
.times {
  flex: 1;
  min-width: 0;
  text-align: left;
  padding: 0 8px;
  min-height: 40px;
  font-size: 13px;
}
.small {
  width: 28px;
  min-height: 40px;
}
.small:disabled {
  opacity: 0.35;
}
</style>
