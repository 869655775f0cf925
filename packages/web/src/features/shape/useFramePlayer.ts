import { findFrameAt, findTimeOfFrame, type FrameTimes, type TimeRange } from '@apodix/core';
import { computed, onScopeDispose, ref, shallowRef, type ComputedRef } from 'vue';

/** As much of a media element as is played. */
export type Playable = Pick<HTMLMediaElement, 'currentTime' | 'play' | 'pause'> &
  Partial<Pick<HTMLMediaElement, 'playbackRate' | 'preservesPitch'>>;

export interface FramePlayerOptions {
  /** The frames of the take; null where it has none (sound alone). */
  readonly frames: ComputedRef<FrameTimes | null>;
  /** What is played, in this order. */
  readonly parts: ComputedRef<readonly TimeRange[]>;
  readonly durationUs: ComputedRef<number>;
  /** One frame at the take's usual rate. */
  readonly frameUs: ComputedRef<number>;
}

/** So far into a frame a player is sent, so that it shows that frame and not the one before. */
const INTO_FRAME_US = 2000;

/**
 * Plays what is kept, and stands on whole frames: the position is always the time at which a frame is shown,
 * on constant and variable rates alike.
 */
export function useFramePlayer({ frames, parts, durationUs, frameUs }: FramePlayerOptions) {
  const element = shallowRef<Playable | null>(null);
  const positionUs = ref(0);
  const isPlaying = ref(false);
  const isLooping = ref(false);
  const speed = ref(1);
  let ticking = 0;
  let playing = 0;

  const snap = (instantUs: number): number => {
    if (!frames.value) return Math.max(0, Math.min(instantUs, durationUs.value));
    const last = frames.value.timesUs.length - 1;
    return findTimeOfFrame(frames.value, Math.min(findFrameAt(frames.value, instantUs), last));
  };
  function seek(instantUs: number): void {
    positionUs.value = snap(instantUs);
    if (element.value)
      element.value.currentTime = (positionUs.value + Math.min(frameUs.value / 2, INTO_FRAME_US)) / 1e6;
  }
  function step(count: number): void {
    pause();
    if (!frames.value) return seek(positionUs.value + count * frameUs.value);
    const last = frames.value.timesUs.length - 1;
    const index = Math.min(last, Math.max(0, findFrameAt(frames.value, positionUs.value) + count));
    seek(findTimeOfFrame(frames.value, index));
  }
  function tick(): void {
    if (!element.value || !isPlaying.value) return;
    const instantUs = element.value.currentTime * 1e6;
    if (instantUs >= (parts.value[playing]?.finishUs ?? 0)) {
      const isLast = playing + 1 >= parts.value.length;
      playing = isLast ? 0 : playing + 1;
      if (isLast && !isLooping.value) pause();
      seek(parts.value[playing]?.startUs ?? 0);
      if (isPlaying.value) ticking = requestAnimationFrame(tick);
      return;
    }
    positionUs.value = frames.value ? snap(instantUs) : instantUs;
    ticking = requestAnimationFrame(tick);
  }
  function pause(): void {
    element.value?.pause();
    isPlaying.value = false;
    cancelAnimationFrame(ticking);
  }
  function toggle(): void {
    const own = element.value;
    if (!own) return;
    if (isPlaying.value) return pause();
    playing = parts.value.findIndex(
      (part) => positionUs.value >= part.startUs && positionUs.value < part.finishUs - frameUs.value,
    );
    if (playing < 0) {
      playing = 0;
      seek(parts.value[0]?.startUs ?? 0);
    }
    isPlaying.value = true;
    own
      .play()
      .then(() => (ticking = requestAnimationFrame(tick)))
      .catch(() => (isPlaying.value = false));
  }
  /** Another take, or its element once it can be seen. */
  function attach(next: Playable | null): void {
    element.value = next;
    if (next) seek(positionUs.value);
    setSpeed(speed.value);
  }
  /** Slower or faster to look at; pitch stays, and the take does too. */
  function setSpeed(next: number): void {
    speed.value = next;
    if (!element.value) return;
    element.value.playbackRate = next;
    element.value.preservesPitch = true;
  }
  function reset(instantUs: number): void {
    pause();
    positionUs.value = instantUs;
  }
  onScopeDispose(() => cancelAnimationFrame(ticking));

  return {
    positionUs,
    isPlaying,
    isLooping,
    speed,
    setSpeed,
    frameIndex: computed(() => (frames.value ? findFrameAt(frames.value, positionUs.value) : null)),
    /** Where the frame on screen ends. */
    frameEndUs: computed(() =>
      frames.value
        ? findTimeOfFrame(frames.value, findFrameAt(frames.value, positionUs.value) + 1)
        : positionUs.value,
    ),
    seek,
    step,
    pause,
    toggle,
    attach,
    reset,
  };
}
