<script setup lang="ts">
import { onBeforeUnmount, ref, useTemplateRef, watch } from 'vue';
import { explainRefusal, readRefusal, type CameraState } from '../capture/camera/explain-refusal.ts';
import { usePictureReading } from '../capture/reading/usePictureReading.ts';

/** A camera that looks for a card and nothing else; no picture of it is kept. */
const emit = defineEmits<{ card: [string]; close: [] }>();
const video = useTemplateRef<HTMLVideoElement>('video');
const state = ref<CameraState>('asking');
let stream: MediaStream | null = null;
const { answer } = usePictureReading(video, {
  isOn: () => state.value === 'on',
  isRecording: () => false,
  wantsPiece: () => false,
  wantsCard: () => true,
});
watch(
  () => answer.value?.card,
  (code) => code && emit('card', code),
);
async function open(): Promise<void> {
  try {
    if (!navigator.mediaDevices) throw Object.assign(new Error('insecure'), { name: 'Insecure' });
    stream = await navigator.mediaDevices.getUserMedia({ video: { width: { ideal: 1280 } } });
    if (video.value) video.value.srcObject = stream;
    state.value = 'on';
  } catch (error) {
    state.value = navigator.mediaDevices ? readRefusal(error) : 'insecure';
  }
}
void open();
onBeforeUnmount(() => stream?.getTracks().forEach((track) => track.stop()));
</script>

<template>
  <div class="scan" data-testid="card-scan">
    <p v-if="explainRefusal(state)" role="alert">
      <strong>{{ explainRefusal(state)?.title }}.</strong> {{ explainRefusal(state)?.what }}
    </p>
    <template v-else>
      <video ref="video" autoplay muted playsinline />
      <p>Hold your card in front of the camera.</p>
    </template>
    <v-btn class="quiet" @click="emit('close')">Close the camera</v-btn>
  </div>
</template>

<style scoped>
.scan {
  display: grid;
  gap: 10px;
  justify-items: start;
}
video {
  width: 100%;
  max-width: 420px;
  border-radius: 6px;
  background: #1f2526;
  transform: scaleX(-1);
}
</style>
