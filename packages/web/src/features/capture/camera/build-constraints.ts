import type { CaptureMode, CaptureQuality } from '@apodix/core';

export type Facing = 'user' | 'environment';

export interface CameraWish {
  readonly mode: CaptureMode;
  readonly quality: CaptureQuality;
  /** A chosen camera; null takes the one that faces as wished. */
  readonly deviceId: string | null;
  readonly microphoneId: string | null;
  readonly facing: Facing;
  /** Sound as it is: nothing that was made for calls may work on it. */
  readonly isPlainSound: boolean;
}

/** More than any camera has: it gives the most that it can. */
const STILL_EDGE = 8192;

/** What a browser is asked for. Everything but the device is a wish, so that no camera is refused for it. */
export function buildConstraints(wish: CameraWish): MediaStreamConstraints {
  const { mode, quality, deviceId, facing } = wish;
  const device = deviceId ? { deviceId: { exact: deviceId } } : { facingMode: { ideal: facing } };
  const lines = quality.lines ?? 720;
  const size =
    mode === 'photo'
      ? { width: { ideal: STILL_EDGE }, height: { ideal: STILL_EDGE } }
      : { width: { ideal: Math.round((lines * 16) / 9) }, height: { ideal: lines } };
  const rate = mode === 'photo' ? {} : { frameRate: { ideal: quality.frameRate ?? 30 } };
  return {
    video: mode === 'sound' ? false : { ...device, ...size, ...rate },
    audio: mode === 'photo' ? false : buildSound(wish),
  };
}

function buildSound({ isPlainSound, microphoneId }: CameraWish): MediaTrackConstraints {
  const isWorkedOn = !isPlainSound;
  return {
    ...(microphoneId ? { deviceId: { exact: microphoneId } } : {}),
    echoCancellation: isWorkedOn,
    noiseSuppression: isWorkedOn,
    autoGainControl: isWorkedOn,
    channelCount: { ideal: 2 },
    sampleRate: { ideal: 48_000 },
  };
}

const WORKINGS = [
  ['echoCancellation', 'echo cancellation'],
  ['noiseSuppression', 'noise suppression'],
  ['autoGainControl', 'automatic level'],
] as const;

/** What was asked to be off and is on all the same, or cannot be told; read back from the track. */
export function findRefused(settings: MediaTrackSettings): {
  readonly on: readonly string[];
  readonly untold: readonly string[];
} {
  const of = (isMatch: (value: unknown) => boolean) =>
    WORKINGS.filter(([key]) => isMatch(settings[key])).map(([, name]) => name);
  return { on: of((value) => value === true), untold: of((value) => value === undefined) };
}

/** What is said about the workings on the sound; null where nothing is wrong. */
export function describeRefused(settings: MediaTrackSettings): string | null {
  const { on, untold } = findRefused(settings);
  const list = (names: readonly string[]) => names.join(', ');
  if (on.length > 0)
    return `This browser would not switch off: ${list(on)}. Music may sound thin: another browser or the phone's own camera is better.`;
  return untold.length > 0 ? `This browser does not say whether it uses: ${list(untold)}.` : null;
}
