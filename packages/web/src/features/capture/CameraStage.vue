<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue';
import CameraControls from './CameraControls.vue';
import CameraReadings from './CameraReadings.vue';
import CameraRefused from './CameraRefused.vue';
import GuideOverlay from './GuideOverlay.vue';
import ModeSwitch from './ModeSwitch.vue';
import RecordingBand from './RecordingBand.vue';
import { explainRefusal } from './camera/explain-refusal.ts';
import { useCameraStage, type CaptureTask } from './useCameraStage.ts';

/** The camera: line up, count in, record. */
const props = defineProps<{ task: CaptureTask; isPractice: boolean }>();
const emit = defineEmits<{
  close: [];
  bringIn: [];
  phone: [];
  recorded: [string];
  card: [string];
  files: [File[]];
}>();
const video = useTemplateRef<HTMLVideoElement>('video');
const stage = useCameraStage(() => props.task, video);
const { camera, recorder, phase, picture, presence } = stage;
watch(stage.card, (code) => code && emit('card', code));
camera.isPractice.value = props.isPractice;
void camera.open();

const refusal = computed(() => explainRefusal(camera.state.value));
const isRunning = computed(() => phase.value === 'recording' || phase.value === 'ending');
const isBusy = computed(() => phase.value !== 'lining-up' && phase.value !== 'ended');
const ratio = ref(16 / 9);
const readRatio = () => {
  if (video.value?.videoWidth) ratio.value = video.value.videoWidth / video.value.videoHeight;
};
async function press(): Promise<void> {
  await stage.press();
  tellEnded();
}
function tellEnded(): void {
  if (phase.value !== 'ended' || !recorder.recording.value) return;
  emit('recorded', recorder.recording.value.id);
  recorder.again();
}
</script>

<template>
  <div
    class="camera"
    :class="{ running: isRunning }"
    data-testid="camera"
    :data-phase="phase"
    :data-looks="stage.looks.value"
    :data-seen="presence.looks.value"
  >
    <div class="main">
      <div class="head">
        <ModeSwitch v-model="stage.mode.value" :modes="stage.modes.value" :is-locked="isBusy" />
        <button type="button" class="close" :disabled="isBusy" @click="emit('close')">
          Close the camera
        </button>
      </div>
      <CameraRefused
        v-if="refusal"
        :refusal="refusal"
        @again="camera.open()"
        @practise="camera.practise()"
        @bring-in="emit('bringIn')"
        @phone="emit('phone')"
      />
      <div v-else class="view" :style="{ '--ratio': ratio }">
        <video
          v-show="stage.mode.value !== 'sound'"
          ref="video"
          :class="{ mirrored: stage.isMirrored.value }"
          autoplay
          muted
          playsinline
          @loadedmetadata="readRatio"
          @resize="readRatio"
        />
        <p v-if="stage.mode.value === 'sound'" class="only-sound">Sound only. No picture is recorded.</p>
        <GuideOverlay
          v-if="stage.isOn.value && stage.mode.value !== 'sound' && !isRunning"
          :guide="stage.guide.value"
          :piece="picture?.reading.piece ?? null"
          :size="picture?.size ?? null"
          :is-mirrored="stage.isMirrored.value"
        />
        <p v-if="stage.isOn.value && stage.mode.value !== 'sound' && !isRunning" class="told">
          {{
            stage.isMirrored.value
              ? 'You see yourself as in a mirror. The recording will not be mirrored.'
              : 'You see what the recording will show, not mirrored.'
          }}
        </p>
        <p v-if="recorder.count.value !== null" class="count" role="timer">{{ recorder.count.value }}</p>
        <p v-if="phase === 'waiting'" class="waiting" role="status">
          Waiting for the first sound or movement. The five seconds before it are kept.
        </p>
        <p v-if="stage.isIdleTold.value" class="idle" role="alert">You are not recording.</p>
        <RecordingBand v-if="isRunning" :elapsed-ms="recorder.elapsedMs.value" :time="stage.time.value" />
      </div>
      <CameraControls
        :stage="stage"
        :is-busy="isBusy"
        :is-running="isRunning"
        @press="press"
        @files="emit('files', $event)"
        @practise="camera.isPractice.value ? camera.useReal() : camera.practise()"
      />
    </div>
    <CameraReadings
      :sound="stage.sound.value"
      :sound-advice="stage.mode.value === 'photo' ? null : stage.soundAdvice.value"
      :picture="stage.mode.value === 'sound' ? null : stage.pictureAdvice.value"
      :in-view="stage.mode.value === 'sound' ? null : presence.advice.value"
      :sound-words="camera.soundWords.value"
      :is-awake="stage.isAwake.value"
      :is-looked-for="stage.guide.value.parts.length > 0 && stage.mode.value !== 'sound'"
    />
  </div>
</template>

<style scoped>
.camera {
  flex: 1;
  min-height: 0;
  display: flex;
  background: #1f2526;
  color: #eef1ef;
}
.main {
  flex: 1;
  min-width: 0;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  gap: 10px;
  padding: 12px 16px;
  justify-items: center;
}
.camera > :deep(.readings) {
  width: 250px;
  border-left: 1px solid #384142;
  flex: none;
}
.head {
  width: 100%;
  display: flex;
  justify-content: center;
  gap: 18px;
  align-items: center;
  flex-wrap: wrap;
}
.close {
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
  color: #c9d0cf;
}
.close:disabled {
  visibility: hidden;
}
.view {
  position: relative;
  align-self: center;
  aspect-ratio: var(--ratio);
  height: 100%;
  max-height: 100%;
  max-width: 100%;
  background: #0f1213;
  border-radius: 4px;
  overflow: hidden;
}
video {
  width: 100%;
  height: 100%;
  object-fit: contain;
  display: block;
}
video.mirrored {
  transform: scaleX(-1);
}
.running .view {
  outline: 10px solid #d9473c;
}
.told,
.waiting {
  position: absolute;
  left: 12px;
  bottom: 10px;
  background: rgb(0 0 0 / 66%);
  padding: 3px 10px;
  border-radius: 4px;
  font-size: 13px;
  max-width: calc(100% - 24px);
}
.waiting {
  bottom: auto;
  top: 12px;
  font-size: 18px;
  font-weight: 700;
}
.count {
  position: absolute;
  inset: 0;
  display: grid;
  place-content: center;
  font-family: var(--display);
  font-weight: 700;
  font-size: min(46vh, 300px);
  line-height: 1;
  color: #fff;
  text-shadow: 0 0 24px #000;
}
.idle {
  position: absolute;
  inset: auto 0 0;
  text-align: center;
  background: #f0be58;
  color: #1b2123;
  font-family: var(--display);
  font-weight: 700;
  font-size: clamp(24px, 4vw, 46px);
  padding: 10px;
}
.only-sound {
  position: absolute;
  inset: 0;
  display: grid;
  place-content: center;
  font-size: 22px;
}
@media (max-width: 1000px) {
  .camera {
    flex-direction: column;
  }
  .camera > :deep(.readings) {
    width: auto;
    border-left: 0;
    border-top: 1px solid #384142;
  }
  .main {
    padding: 8px;
    grid-template-rows: auto auto auto;
  }
  .view {
    height: auto;
    width: 100%;
    max-height: 62vh;
  }
}
</style>
