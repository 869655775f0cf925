<script setup lang="ts">
import { createPlainColor, isPlainColor, writeKelvin, type ColorSettings } from '@apodix/core';
import { computed } from 'vue';
import SliderRow from '../SliderRow.vue';
import type { Tones } from './read-tones.ts';
import ToneChart from './ToneChart.vue';

/** What can be done to the colors of a take: first what should be neutral, then light and richness. */
const props = defineProps<{
  settings: ColorSettings | null;
  /** What the proposal put right, and why. */
  reasons: readonly string[];
  isProposed: boolean;
  isPicking: boolean;
  /** Whether it is a grey card that is picked. */
  isCard: boolean;
  isMarked: boolean;
  isSplit: boolean;
  tones: Tones | null;
  /** Other takes whose look this one can follow. */
  models: readonly { readonly id: string; readonly name: string }[];
  isMatching: boolean;
}>();
const emit = defineEmits<{
  change: [settings: ColorSettings | null, isDragging: boolean];
  pick: [isCard: boolean];
  propose: [];
  match: [takeId: string];
  saveTable: [];
  bringTable: [file: File];
  mark: [];
  split: [];
}>();
const DAYLIGHT_MIRED = 154;
const own = computed(() => props.settings ?? createPlainColor());
const mired = computed(() => (own.value.white ? Math.round(1e6 / own.value.white.kelvin) : DAYLIGHT_MIRED));
const tint = computed(() => Math.round((own.value.white?.tint ?? 0) * 1000));
/** What the lamp looks like, as the eye would see a white sheet under it. */
const swatch = computed(() => {
  const t = (mired.value - DAYLIGHT_MIRED) / 250;
  return t >= 0
    ? `hsl(38 ${Math.min(80, t * 90)}% ${92 - Math.min(1, t) * 22}%)`
    : `hsl(212 ${Math.min(80, -t * 200)}% 88%)`;
});
function set(changes: Partial<ColorSettings>, isDragging: boolean): void {
  const next = { ...own.value, ...changes };
  emit('change', isPlainColor(next) ? null : next, isDragging);
}
function setWhite(nextMired: number, nextTint: number, isDragging: boolean): void {
  const isNone = nextMired === DAYLIGHT_MIRED && nextTint === 0;
  set({ white: isNone ? null : { kelvin: Math.round(1e6 / nextMired), tint: nextTint / 1000 } }, isDragging);
}
const end = () => emit('change', props.settings, false);
const writeSigned = (value: number, unit = '') =>
  `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value)}${unit}`;
const scales = [
  {
    key: 'exposure',
    label: 'Light',
    min: -3,
    max: 3,
    step: 0.05,
    write: (v: number) => writeSigned(v, ' stops'),
  },
  {
    key: 'shadows',
    label: 'Shadows',
    min: 0,
    max: 1,
    step: 0.02,
    write: (v: number) => `lift ${Math.round(v * 100)}`,
  },
  {
    key: 'highlights',
    label: 'Bright parts',
    min: 0,
    max: 1,
    step: 0.02,
    write: (v: number) => `soften ${Math.round(v * 100)}`,
  },
  {
    key: 'contrast',
    label: 'Contrast',
    min: -1,
    max: 1,
    step: 0.02,
    write: (v: number) => writeSigned(Math.round(v * 100)),
  },
  {
    key: 'richness',
    label: 'Richness',
    min: -1,
    max: 1,
    step: 0.02,
    write: (v: number) => writeSigned(Math.round(v * 100)),
  },
] as const;
function bring(event: Event): void {
  const input = event.target as HTMLInputElement;
  const [file] = input.files ?? [];
  if (file) emit('bringTable', file);
  input.value = '';
}
const percent = (share: number) => `${(share * 100).toFixed(1)} %`;
</script>

<template>
  <section>
    <h2>What should be neutral?</h2>
    <p class="note">
      Click something white or grey in the picture. Apodix takes the lamp’s colour from it; from a
      photographer’s grey card (18 %) the brightness too.
    </p>
    <div class="picks">
      <v-btn class="quiet" :aria-pressed="isPicking && !isCard" @click="emit('pick', false)">{{
        isPicking && !isCard ? 'Click in the picture…' : 'Pick it in the picture'
      }}</v-btn>
      <v-btn class="quiet" :aria-pressed="isPicking && isCard" @click="emit('pick', true)">{{
        isPicking && isCard ? 'Click on the card…' : 'It is a grey card'
      }}</v-btn>
    </div>
    <div class="lamp" data-testid="lamp">
      <span class="swatch" :style="{ background: swatch }" />
      <div>
        <strong>{{ own.white ? `Lamp ${writeKelvin(own.white.kelvin)}` : 'No lamp put right' }}</strong>
        <template v-if="isProposed">
          <p v-for="reason in reasons" :key="reason" class="note">{{ reason }}</p>
        </template>
        <p v-else-if="!own.white" class="note">The colours are as the camera saw them.</p>
        <p v-else class="note">chosen by you</p>
      </div>
    </div>
    <SliderRow
      :model-value="mired"
      label="Lamp"
      :figure="own.white ? writeKelvin(own.white.kelvin) : 'daylight'"
      :min="80"
      :max="450"
      :step="1"
      :rest="DAYLIGHT_MIRED"
      @update:model-value="setWhite($event, tint, true)"
      @end="end"
    />
    <SliderRow
      :model-value="tint"
      label="Green cast"
      :figure="tint === 0 ? 'none' : tint > 0 ? `green ${tint}` : `pink ${-tint}`"
      :min="-40"
      :max="40"
      :step="1"
      :rest="0"
      @update:model-value="setWhite(mired, $event, true)"
      @end="end"
    />
    <SliderRow
      v-for="scale in scales"
      :key="scale.key"
      :model-value="own[scale.key]"
      :label="scale.label"
      :figure="own[scale.key] === 0 ? '0' : scale.write(own[scale.key])"
      :min="scale.min"
      :max="scale.max"
      :step="scale.step"
      :rest="0"
      @update:model-value="set({ [scale.key]: $event }, true)"
      @end="end"
    />
  </section>
  <section v-if="tones">
    <ToneChart :tones="tones" />
    <p class="note">
      <span class="figures">{{ percent(tones.whiteShare) }}</span> of the picture is at full white,
      <span class="figures">{{ percent(tones.blackShare) }}</span> at full black.
    </p>
    <v-btn class="quiet" :disabled="settings === null" :aria-pressed="isMarked" @click="emit('mark')">{{
      isMarked ? 'Hide where' : 'Show where'
    }}</v-btn>
  </section>
  <section>
    <v-btn class="quiet" :disabled="settings === null" :aria-pressed="isSplit" @click="emit('split')">{{
      isSplit ? 'Whole picture' : 'Before and after side by side'
    }}</v-btn>
    <div class="pair">
      <v-btn class="quiet" :disabled="isProposed" @click="emit('propose')">Suggested</v-btn
      ><v-btn class="quiet" :disabled="settings === null" @click="emit('change', null, false)">None</v-btn>
    </div>
    <v-btn
      v-for="model in models"
      :key="model.id"
      class="quiet"
      :loading="isMatching"
      @click="emit('match', model.id)"
      >Look like {{ model.name }}</v-btn
    >
    <v-btn class="quiet" :disabled="settings === null" @click="emit('saveTable')">Save as .cube table</v-btn>
  </section>
  <section>
    <h2>A table of your own</h2>
    <template v-if="own.look">
      <p class="table">
        <strong>{{ own.look.name }}</strong>
        <button type="button" aria-label="Take the table away" @click="set({ look: null }, false)">×</button>
      </p>
      <p class="note">It comes after all of the above.</p>
    </template>
    <label v-else class="bring"
      ><span>Use a .cube table</span
      ><input type="file" accept=".cube" class="unseen" data-testid="cube" @change="bring"
    /></label>
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
.picks {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.lamp {
  display: flex;
  gap: 10px;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 8px 10px;
}
.table {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.table button {
  width: 40px;
  min-height: 40px;
}
.swatch {
  width: 34px;
  height: 34px;
  border-radius: 50%;
  border: 1px solid var(--line);
  flex: none;
}
</style>
