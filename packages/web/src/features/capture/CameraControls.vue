<script setup lang="ts">
import { COUNT_INS } from '@apodix/core';
import { computed } from 'vue';
import { useKeys } from '../../keys/useKeys.ts';
import type { useCameraStage } from './useCameraStage.ts';

/** The one button that matters, and what can be set beside it. */
const props = defineProps<{
  stage: ReturnType<typeof useCameraStage>;
  isBusy: boolean;
  isRunning: boolean;
}>();
const emit = defineEmits<{ press: []; practise: []; files: [File[]] }>();
/** A phone's own camera gives more than any page can ask for. */
function onOwn(event: Event): void {
  const input = event.target as HTMLInputElement;
  emit('files', [...(input.files ?? [])]);
  input.value = '';
}
// What is set here belongs to the camera, not to this part of its page.
const { countIn, isTickHeard, waits, isMirrored } = props.stage;
const { deviceId, microphoneId } = props.stage.camera;
const words = computed(() => {
  const { mode, phase } = props.stage;
  if (props.isRunning) return 'Stop recording';
  if (props.isBusy) return 'Stop';
  if (mode.value === 'photo') return 'Take the photograph';
  return phase.value === 'lining-up' && props.stage.waits.value ? 'Get ready' : 'Start recording';
});
useKeys({ record: () => emit('press') });
</script>

<template>
  <div class="controls">
    <p class="predicted">
      {{ stage.mode.value === 'photo' ? stage.guide.value.words : stage.quality.value.sentence }}
    </p>
    <div class="row">
      <v-menu v-if="stage.mode.value !== 'photo'" :close-on-content-click="false">
        <template #activator="{ props: menu }">
          <button type="button" class="side" :disabled="isBusy" v-bind="menu">
            Count-in <strong>{{ countIn }} s</strong>
          </button>
        </template>
        <div class="sheet menu">
          <fieldset>
            <legend>Count-in</legend>
            <label v-for="seconds in COUNT_INS" :key="seconds">
              <input v-model="countIn" type="radio" name="count-in" :value="seconds" />
              {{ seconds === 0 ? 'none' : `${seconds} s` }}
            </label>
          </fieldset>
          <label><input v-model="isTickHeard" type="checkbox" /> a sound while counting</label>
          <label>
            <input v-model="waits" type="checkbox" /> start by itself at the first sound or movement
          </label>
        </div>
      </v-menu>
      <label v-else class="side own">
        Phone’s own camera
        <input type="file" accept="image/*" capture="environment" @change="onOwn" />
      </label>
      <button
        type="button"
        class="press"
        data-testid="press"
        :disabled="!stage.isOn.value || stage.phase.value === 'ending'"
        @click="emit('press')"
      >
        <span class="dot" :class="{ square: isBusy }" aria-hidden="true" />{{ words }}
      </button>
      <v-menu :close-on-content-click="false">
        <template #activator="{ props: menu }">
          <button type="button" class="side" :disabled="isBusy" v-bind="menu">Other camera</button>
        </template>
        <div class="sheet menu">
          <button type="button" @click="stage.camera.flip()">Turn to the other side</button>
          <label v-if="stage.camera.cameras.value.length > 1">
            Camera
            <select v-model="deviceId" @change="stage.camera.open()">
              <option :value="null">as it comes</option>
              <option
                v-for="(each, index) in stage.camera.cameras.value"
                :key="each.deviceId"
                :value="each.deviceId"
              >
                {{ each.label || `Camera ${index + 1}` }}
              </option>
            </select>
          </label>
          <label v-if="stage.camera.microphones.value.length > 1">
            Microphone
            <select v-model="microphoneId" @change="stage.camera.open()">
              <option :value="null">as it comes</option>
              <option
                v-for="(each, index) in stage.camera.microphones.value"
                :key="each.deviceId"
                :value="each.deviceId"
              >
                {{ each.label || `Microphone ${index + 1}` }}
              </option>
            </select>
          </label>
          <label><input v-model="isMirrored" type="checkbox" /> show me as in a mirror</label>
          <button type="button" @click="emit('practise')">
            {{ stage.camera.isPractice.value ? 'Use the real camera' : 'Use the practice camera' }}
          </button>
        </div>
      </v-menu>
    </div>
  </div>
</template>

<style scoped>
.controls {
  width: 100%;
  display: grid;
  gap: 6px;
  justify-items: center;
}
.predicted {
  font-size: 13px;
  color: #c9d0cf;
  text-align: center;
}
.row {
  display: grid;
  grid-template-columns: 1fr auto 1fr;
  gap: 14px;
  align-items: center;
  width: min(100%, 620px);
}
.side {
  min-height: 44px;
  color: #eef1ef;
  justify-self: end;
}
/* Only where there is a camera of its own: on what is held in the hand. */
.own {
  visibility: hidden;
  position: relative;
  text-align: center;
}
.own input {
  position: absolute;
  inset: 0;
  opacity: 0;
}
@media (pointer: coarse) {
  .own {
    visibility: visible;
  }
}
.side:last-of-type {
  justify-self: start;
}
.side:disabled {
  visibility: hidden;
}
.press {
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 52px;
  padding: 0 26px;
  background: #fff;
  color: #1b2123;
  border-radius: 6px;
  font-weight: 700;
  font-size: 17px;
}
.press:disabled {
  opacity: 0.45;
}
.dot {
  width: 16px;
  height: 16px;
  border-radius: 50%;
  background: #a8322a;
}
.dot.square {
  border-radius: 2px;
}
.menu {
  padding: 14px 16px;
  display: grid;
  gap: 10px;
  min-width: 260px;
}
.menu fieldset {
  border: 0;
  padding: 0;
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
}
.menu legend {
  font-weight: 700;
  margin-bottom: 4px;
}
.menu label,
.menu button {
  min-height: 40px;
  display: flex;
  gap: 8px;
  align-items: center;
}
.menu select {
  border: 1px solid var(--line);
  border-radius: 4px;
  min-height: 40px;
  padding: 0 8px;
  max-width: 220px;
  background: var(--sheet);
  color: inherit;
}
@media (max-width: 600px) {
  .press {
    padding: 0 16px;
    font-size: 16px;
  }
  .row {
    gap: 8px;
  }
}
</style>
