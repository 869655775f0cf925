import type { CaptureMode, CaptureQuality, Guide } from '@apodix/core';
import { computed, onScopeDispose, ref, shallowRef } from 'vue';
import { openPracticeCamera } from '../practice/practice-camera.ts';
import { buildConstraints, describeRefused, type Facing } from './build-constraints.ts';
import { readRefusal, type CameraState } from './explain-refusal.ts';

export interface CameraOptions {
  readonly mode: () => CaptureMode;
  readonly quality: () => CaptureQuality;
  readonly guide: () => Guide;
  /** Whether the sound is wanted as it is, without what was made for calls. */
  readonly isPlainSound: () => boolean;
}

const NAMED = ['videoinput', 'audioinput'] as const;

/** A camera of this device, or the practice camera: the same stream for all that follows. */
export function useCamera(options: CameraOptions) {
  const state = ref<CameraState>('off');
  const stream = shallowRef<MediaStream | null>(null);
  const devices = ref<readonly MediaDeviceInfo[]>([]);
  const deviceId = ref<string | null>(null);
  const microphoneId = ref<string | null>(null);
  const facing = ref<Facing>('environment');
  const isPractice = ref(false);
  const soundWords = ref<string | null>(null);
  let asked = 0;
  let endPractice: (() => void) | null = null;

  async function open(): Promise<void> {
    const own = (asked += 1);
    close();
    state.value = 'asking';
    try {
      const next = isPractice.value ? startPractice() : await askBrowser();
      // A newer wish has taken its place meanwhile.
      if (own !== asked) return stopTracks(next);
      stream.value = next;
      state.value = 'on';
      for (const track of next.getTracks()) track.addEventListener('ended', () => onEnded(track));
      await readDevices();
    } catch (error) {
      if (own === asked) state.value = readRefusal(error);
    }
  }
  function startPractice(): MediaStream {
    const practice = openPracticeCamera(options.mode(), options.guide().id, options.quality().lines ?? 720);
    endPractice = practice.end;
    soundWords.value = null;
    return practice.stream;
  }
  async function askBrowser(): Promise<MediaStream> {
    if (!navigator.mediaDevices?.getUserMedia)
      throw Object.assign(new Error('insecure'), { name: 'Insecure' });
    const wish = {
      mode: options.mode(),
      quality: options.quality(),
      deviceId: deviceId.value,
      microphoneId: microphoneId.value,
      facing: facing.value,
      isPlainSound: options.isPlainSound(),
    };
    const next = await navigator.mediaDevices.getUserMedia(buildConstraints(wish));
    const [sound] = next.getAudioTracks();
    soundWords.value = sound && wish.isPlainSound ? describeRefused(sound.getSettings()) : null;
    return next;
  }
  async function readDevices(): Promise<void> {
    const all = (await navigator.mediaDevices?.enumerateDevices?.().catch(() => [])) ?? [];
    devices.value = all.filter((each) => (NAMED as readonly string[]).includes(each.kind));
  }
  /** A camera that is unplugged, or taken away by the system, ends its track. */
  function onEnded(track: MediaStreamTrack): void {
    if (stream.value?.getTracks().includes(track)) {
      close();
      state.value = 'taken';
    }
  }
  function close(): void {
    stopTracks(stream.value);
    endPractice?.();
    endPractice = null;
    stream.value = null;
    if (state.value === 'on') state.value = 'off';
  }
  function stopTracks(of: MediaStream | null): void {
    for (const track of of?.getTracks() ?? []) track.stop();
  }
  onScopeDispose(() => {
    asked += 1;
    close();
  });

  const cameras = computed(() => devices.value.filter((each) => each.kind === 'videoinput'));
  const track = computed(() => stream.value?.getVideoTracks()[0] ?? null);
  return {
    state: computed(() =>
      state.value === 'failed' && !navigator.mediaDevices && !isPractice.value ? 'insecure' : state.value,
    ),
    stream,
    track,
    cameras,
    microphones: computed(() => devices.value.filter((each) => each.kind === 'audioinput')),
    deviceId,
    microphoneId,
    isPractice,
    soundWords,
    /** People see themselves as in a mirror; a camera that looks away from them shows what it sees. */
    facesPerson: computed(() => {
      const told = track.value?.getSettings().facingMode;
      return told === undefined ? cameras.value.length <= 1 : told === 'user';
    }),
    open,
    close: () => {
      asked += 1;
      close();
      state.value = 'off';
    },
    practise: () => {
      isPractice.value = true;
      return open();
    },
    useReal: () => {
      isPractice.value = false;
      return open();
    },
    /** The other side of a phone, or the next camera. */
    flip: () => {
      const own = track.value?.getSettings().deviceId;
      const at = cameras.value.findIndex((each) => each.deviceId === own);
      facing.value = facing.value === 'user' ? 'environment' : 'user';
      if (cameras.value.length > 1)
        deviceId.value = cameras.value[(at + 1) % cameras.value.length]?.deviceId ?? null;
      return open();
    },
  };
}
