<script setup lang="ts">
import { MOST_NOISE_DB, type Recipe, type SoundFaults, type SoundLevel } from '@apodix/core';
import { computed } from 'vue';
import SliderRow from '../SliderRow.vue';

/** How loud the sound is, from which side it comes, and what is taken out of it. */
const props = defineProps<{
  sound: Recipe['sound'];
  isStereo: boolean;
  /** Level of what is kept, before its gain; and about the moment on screen. */
  level: SoundLevel | null;
  momentary: number | null;
  shortTerm: number | null;
  /** The one gain to the wanted loudness; null where no limit asks for one. */
  targetGainDb: number | null;
  /** How much louder it would have to be where peaks leave no room. */
  lackingDb: number;
  faults: SoundFaults | null;
  clippedCount: number;
  /** Level of the steady noise; null where there is none to lower. */
  noiseFloorDb: number | null;
}>();
const emit = defineEmits<{ change: [sound: Recipe['sound'], isDragging: boolean]; reset: [] }>();
const set = (changes: Partial<Recipe['sound']>, isDragging = false) =>
  emit('change', { ...props.sound, ...changes }, isDragging);
const end = () => emit('change', props.sound, false);
const write = (value: number | null, unit: string, digits = 1) =>
  value === null ? '–' : `${value < 0 ? '−' : ''}${Math.abs(value).toFixed(digits)} ${unit}`;
const after = (value: number | null) => (value === null ? null : value + props.sound.gainDb);
const isOver = computed(() => (after(props.level?.truePeakDbtp ?? null) ?? -99) > -1);
const sides = [
  { value: 'as-recorded', label: 'Both as recorded' },
  { value: 'left', label: 'Left side on both' },
  { value: 'right', label: 'Right side on both' },
  { value: 'mixed', label: 'Both mixed to one' },
] as const;
const DEFAULT_FLOOR_DB = -60;
function lowerNoise(lowerDb: number, isDragging: boolean): void {
  const known = props.noiseFloorDb ?? props.sound.noise?.floorDb ?? DEFAULT_FLOOR_DB;
  const floorDb = Math.round(Math.max(-90, Math.min(-20, known)));
  set({ noise: lowerDb < 1 ? null : { lowerDb, floorDb } }, isDragging);
}
const seconds = (us: number) => (us === 0 ? 'none' : `${(us / 1e6).toFixed(1)} s`);
</script>

<template>
  <section>
    <h2>How loud</h2>
    <table>
      <tbody>
        <tr>
          <th scope="row">What is kept</th>
          <td class="figures">{{ write(after(level?.loudnessLufs ?? null), 'LUFS') }}</td>
        </tr>
        <tr>
          <th scope="row">Highest peak</th>
          <td class="figures" :class="{ wrong: isOver && !sound.isLimited }">
            {{ write(after(level?.truePeakDbtp ?? null), 'dBTP') }}
          </td>
        </tr>
        <tr>
          <th scope="row">Soft to loud</th>
          <td class="figures">{{ write(level?.loudnessRangeLu ?? null, 'LU') }}</td>
        </tr>
        <tr>
          <th scope="row">Here, 3 s</th>
          <td class="figures">{{ write(after(shortTerm), 'LUFS') }}</td>
        </tr>
        <tr>
          <th scope="row">Here, 0.4 s</th>
          <td class="figures">{{ write(after(momentary), 'LUFS') }}</td>
        </tr>
      </tbody>
    </table>
    <SliderRow
      :model-value="sound.gainDb"
      label="Louder or quieter"
      :figure="`${sound.gainDb > 0 ? '+' : ''}${write(sound.gainDb, 'dB')}`"
      :min="-24"
      :max="24"
      :step="0.1"
      :rest="0"
      @update:model-value="set({ gainDb: $event }, true)"
      @end="end"
    />
    <v-btn
      v-if="targetGainDb !== null"
      class="quiet"
      :disabled="sound.gainDb === targetGainDb"
      @click="set({ gainDb: targetGainDb })"
      >To the wanted level</v-btn
    >
    <p class="note">One gain for all of it: soft stays soft beside loud.</p>
    <p v-if="lackingDb > 0.05" class="note">
      Its loudest moment leaves no room: it stays <span class="figures">{{ write(lackingDb, 'dB') }}</span>
      short of that level.
    </p>
    <label v-if="lackingDb > 0.05 || isOver || sound.isLimited" class="tick"
      ><input
        type="checkbox"
        :checked="sound.isLimited"
        @change="set({ isLimited: !sound.isLimited })"
      /><span>Hold the loudest moments below −1 dBTP (changes them a little)</span></label
    >
    <p v-if="clippedCount > 0" class="wrong">
      Cut off <span class="figures">{{ clippedCount }}</span> times in the recording: see the red marks.
      Nothing can bring that back.
    </p>
  </section>
  <section v-if="isStereo">
    <h2>Sides</h2>
    <p v-if="faults?.goodSide" class="note">Only the {{ faults.goodSide }} side has sound.</p>
    <label v-for="side in sides" :key="side.value" class="tick"
      ><input
        type="radio"
        name="sides"
        :checked="sound.sides === side.value"
        @change="set({ sides: side.value })"
      /><span>{{ side.label }}</span></label
    >
  </section>
  <section>
    <h2>Take out</h2>
    <label v-if="faults?.hum || sound.humHz" class="tick"
      ><input
        type="checkbox"
        :checked="sound.humHz !== null"
        @change="set({ humHz: sound.humHz === null ? (faults?.hum?.humHz ?? 50) : null })"
      /><span
        >Hum of the mains
        <span v-if="faults?.hum" class="note figures"
          >{{ faults.hum.humHz }} Hz: {{ write(faults.hum.beforeDb, 'dB', 0) }} →
          {{ write(faults.hum.afterDb, 'dB', 0) }}</span
        ></span
      ></label
    >
    <p v-else class="note">No hum of the mains was found.</p>
    <label class="tick"
      ><input
        type="checkbox"
        :checked="sound.isRumbleCut"
        @change="set({ isRumbleCut: !sound.isRumbleCut })"
      /><span
        >Rumble below the lowest notes
        <span v-if="faults?.rumbleDb" class="note figures">{{ write(faults.rumbleDb, 'dB', 0) }}</span></span
      ></label
    >
    <template v-if="noiseFloorDb !== null || sound.noise">
      <SliderRow
        :model-value="sound.noise?.lowerDb ?? 0"
        label="Noise"
        :figure="sound.noise ? `−${sound.noise.lowerDb.toFixed(0)} dB` : 'as recorded'"
        :min="0"
        :max="MOST_NOISE_DB"
        :step="1"
        :rest="0"
        @update:model-value="lowerNoise($event, true)"
        @end="end"
      />
      <p class="note">
        Lowers what hisses between the notes, gently<template v-if="noiseFloorDb !== null"
          >: the noise is at <span class="figures">{{ write(noiseFloorDb, 'dB', 0) }}</span></template
        >. It is heard in the made file.
      </p>
    </template>
  </section>
  <section>
    <h2>In time</h2>
    <SliderRow
      :model-value="sound.laterUs / 1000"
      label="Sound later"
      :figure="sound.laterUs === 0 ? 'as recorded' : write(sound.laterUs / 1000, 'ms', 0)"
      :min="-500"
      :max="500"
      :step="1"
      :rest="0"
      @update:model-value="set({ laterUs: Math.round($event * 1000) }, true)"
      @end="end"
    />
    <SliderRow
      :model-value="sound.fadeInUs / 1e6"
      label="Comes up within"
      :figure="seconds(sound.fadeInUs)"
      :min="0"
      :max="5"
      :step="0.1"
      :rest="0"
      @update:model-value="set({ fadeInUs: Math.round($event * 1e6) }, true)"
      @end="end"
    />
    <SliderRow
      :model-value="sound.fadeOutUs / 1e6"
      label="Dies away within"
      :figure="seconds(sound.fadeOutUs)"
      :min="0"
      :max="5"
      :step="0.1"
      :rest="0"
      @update:model-value="set({ fadeOutUs: Math.round($event * 1e6) }, true)"
      @end="end"
    />
    <p class="note">Fades, a limiter and earlier sound are heard in the made file, all else here too.</p>
    <v-btn class="quiet" @click="emit('reset')">Sound as recorded</v-btn>
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
table {
  width: 100%;
  font-size: 13.5px;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
}
td {
  text-align: right;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 40px;
  font-size: 14px;
}
.tick input {
  width: 20px;
  height: 20px;
  flex: none;
}
.tick span span {
  display: block;
}
.wrong {
  color: var(--madder);
}
p.wrong {
  font-size: 13px;
}
</style>
