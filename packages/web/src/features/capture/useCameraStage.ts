import {
  chooseGuide,
  chooseQuality,
  describePicture,
  describeSound,
  describeTime,
  findSoundNeed,
  IdleWatch,
  orderModes,
  readCeilings,
  StartWatch,
  type CaptureMode,
  type CountIn,
  type Limit,
  type Slot,
} from '@apodix/core';
import { useLocalStorage } from '@vueuse/core';
import { computed, onScopeDispose, ref, shallowRef, watch, type ShallowRef } from 'vue';
import { useNotices } from '../../stores/notices.ts';
import { useCamera } from './camera/useCamera.ts';
import { openPieceStore } from './pieces/open-piece-store.ts';
import { usePresence } from './presence/usePresence.ts';
import { usePictureReading } from './reading/usePictureReading.ts';
import { useSoundReading } from './reading/useSoundReading.ts';
import { playTick } from './recording/play-tick.ts';
import { FrameRing, takePhoto } from './recording/take-photo.ts';
import { useRecorder } from './recording/useRecorder.ts';
import { useWakeLock } from './recording/useWakeLock.ts';

export interface CaptureTask {
  /** Whose recordings they are. */
  readonly ownerId: string;
  readonly assignmentId: string | null;
  readonly subject: string;
  readonly limits: readonly Limit[];
  readonly slots: readonly Slot[];
  /** What takes are called, with a number after it. */
  readonly title: string;
  readonly nextNumber: number;
}

/** Everything behind the camera of a page: what it sees and hears, what that means, and what it records. */
export function useCameraStage(
  task: () => CaptureTask,
  video: Readonly<ShallowRef<HTMLVideoElement | null>>,
) {
  const notices = useNotices();
  const modes = computed(() => orderModes(task().slots));
  const mode = ref<CaptureMode>(modes.value[0]?.mode ?? 'video');
  const countIn = useLocalStorage<CountIn>('apodix.count-in', 3);
  const isTickHeard = useLocalStorage('apodix.count-in-sound', false);
  const waits = ref(false);
  const mirrorWish = ref<boolean | null>(null);
  const quality = computed(() => chooseQuality(task().limits, mode.value));
  const guide = computed(() => chooseGuide(task().subject, mode.value, task().limits));

  const camera = useCamera({
    mode: () => mode.value,
    quality: () => quality.value.quality,
    guide: () => guide.value,
    isPlainSound: () => findSoundNeed(task().subject, null) === 'music',
  });
  const recorder = useRecorder({
    store: openPieceStore(),
    stream: () => camera.stream.value,
    mode: () => mode.value,
    quality: () => quality.value.quality,
    origin: () => (camera.isPractice.value ? 'practice' : 'camera'),
    owner: () => ({ personId: task().ownerId, assignmentId: task().assignmentId }),
    name: () => `${task().title}, take ${task().nextNumber}`,
    onFault: notices.tellFault,
  });
  const phase = computed(() => recorder.state.value.phase);
  const isOn = computed(() => camera.state.value === 'on');
  const isLooking = () => isOn.value && mode.value !== 'sound' && phase.value !== 'ended';
  const isRecording = () => phase.value === 'recording';
  const picture = usePictureReading(video, {
    isOn: isLooking,
    isRecording,
    wantsPiece: () => guide.value.wantsPiece,
    wantsCard: () => phase.value === 'lining-up' && mode.value !== 'sound',
  });
  const sound = useSoundReading(camera.stream);
  const parts = () => (mode.value === 'sound' ? [] : guide.value.parts);
  const presence = usePresence(video, parts, isLooking, isRecording);
  const isAwake = useWakeLock(() => ['counting', 'waiting', 'recording'].includes(phase.value));

  // The frames of the last second are kept only where a photograph may be taken.
  const ring = shallowRef<FrameRing | null>(null);
  watch([isOn, mode, video], () => {
    ring.value?.end();
    ring.value = isOn.value && mode.value === 'photo' && video.value ? new FrameRing(video.value) : null;
  });
  onScopeDispose(() => ring.value?.end());
  watch([camera.stream, video], ([stream, element]) => {
    if (element && element.srcObject !== stream) element.srcObject = stream;
  });
  watch(mode, () => isOn.value && void camera.open());

  const idle = new IdleWatch();
  let start = new StartWatch();
  const isIdleTold = ref(false);
  const watched = useEvery(200, () => {
    const level = sound.value?.levelDb ?? null;
    const movement = picture.answer.value?.movement ?? null;
    if (phase.value === 'waiting' && start.add(level, movement)) recorder.notice();
    const isIdle = isOn.value && phase.value === 'lining-up' && mode.value !== 'photo';
    if (!isIdle) idle.reset();
    isIdleTold.value = isIdle && idle.add(performance.now() / 1000, level, movement);
  });
  onScopeDispose(watched);
  watch(recorder.count, (count) => count !== null && isTickHeard.value && playTick(count));

  const ceilings = computed(() => readCeilings(task().limits, mode.value));
  return {
    modes,
    mode,
    countIn,
    isTickHeard,
    waits,
    quality,
    guide,
    camera,
    recorder,
    phase,
    isOn,
    isAwake,
    isIdleTold,
    picture: picture.answer,
    looks: picture.looks,
    /** The code of a card that is shown to the camera; null while none is. */
    card: computed(() => picture.answer.value?.card ?? null),
    sound,
    presence,
    soundAdvice: computed(() => describeSound(sound.value)),
    pictureAdvice: computed(() => {
      const answer = picture.answer.value;
      return answer && describePicture(answer.reading, answer.flicker, answer.size, guide.value.wantsPiece);
    }),
    time: computed(() =>
      describeTime(recorder.elapsedMs.value * 1000, ceilings.value.minUs, ceilings.value.maxUs),
    ),
    isMirrored: computed({
      get: () => mirrorWish.value ?? (camera.facesPerson.value && !guide.value.wantsPiece),
      set: (wish) => (mirrorWish.value = wish),
    }),
    press: async () => {
      if (phase.value === 'recording' || phase.value === 'counting' || phase.value === 'waiting')
        return recorder.stop();
      if (mode.value !== 'photo') {
        start = new StartWatch();
        return recorder.press(countIn.value, waits.value);
      }
      const track = camera.track.value;
      if (!track || !ring.value) return;
      try {
        await recorder.keepPhoto((await takePhoto(track, ring.value)).blob);
      } catch (error) {
        notices.tellFault(error);
      }
    },
  };
}

function useEvery(ms: number, work: () => void): () => void {
  const timer = setInterval(work, ms);
  return () => clearInterval(timer);
}
