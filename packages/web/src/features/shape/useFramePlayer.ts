import { findFrameAt, findTimeOfFrame, type FrameTimes, type TimeRange } from '@apodix/core';
import { computed, onScopeDispose, ref, shallowRef, type ComputedRef } from 'vue';

/** As much of a media element as is played. */
export type Playable = Pick<HTMLMediaElement, 'currentTime' | 'play' | 'pause'> &
  Partial<Pick<HTMLMediaElement, 'playbackRate' | 'preservesPitch'>>;

/** Seeks in a media element's stead, in seconds. */
export interface Seeker {
  readonly seek: (seconds: number) => void;
  /** Brings the element itself to what was sought last. */
  readonly settle: () => void;
}

export interface FramePlayerOptions {
  /** The frames of the take; null where it has none (sound alone). */
  readonly frames: ComputedRef<FrameTimes | null>;
  /** What is played, in this order; parts of other sources than 0 are played by `guestOf`. */
  readonly parts: ComputedRef<readonly (TimeRange & { readonly source?: number })[]>;
  /** What plays another source of the recipe; null where it is not there (yet): its parts are passed over. */
  readonly guestOf?: (source: number) => Playable | null;
  /** The part that is worked on: where it is of another take, playing begins with it. */
  readonly chosen?: ComputedRef<number>;
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
export function useFramePlayer(options: FramePlayerOptions) {
  const { frames, parts, durationUs, frameUs } = options;
  const element = shallowRef<Playable | null>(null);
  const positionUs = ref(0);
  const isPlaying = ref(false);
  const isLooping = ref(false);
  const speed = ref(1);
  /** The source that is on screen. */
  const shownSource = ref(0);
  let seeker: Seeker | null = null;
  let ticking = 0;
  let playing = 0;

  const guestOf = (source: number) => options.guestOf?.(source) ?? null;
  /** Parts of a take that cannot be seen yet are passed over. */
  const canPlay = (part: (typeof parts.value)[number] | undefined) =>
    (part?.source ?? 0) === 0 || guestOf(part?.source ?? 0) !== null;
  const readPlayer = () => (shownSource.value === 0 ? element.value : guestOf(shownSource.value));

  const snap = (instantUs: number): number => {
    if (!frames.value) return Math.max(0, Math.min(instantUs, durationUs.value));
    const last = frames.value.timesUs.length - 1;
    return findTimeOfFrame(frames.value, Math.min(findFrameAt(frames.value, instantUs), last));
  };
  function seek(instantUs: number): void {
    positionUs.value = snap(instantUs);
    if (!element.value) return;
    const seconds = (positionUs.value + Math.min(frameUs.value / 2, INTO_FRAME_US)) / 1e6;
    if (seeker) seeker.seek(seconds);
    else element.value.currentTime = seconds;
  }
  function step(count: number): void {
    pause();
    if (!frames.value) return seek(positionUs.value + count * frameUs.value);
    const last = frames.value.timesUs.length - 1;
    const index = Math.min(last, Math.max(0, findFrameAt(frames.value, positionUs.value) + count));
    seek(findTimeOfFrame(frames.value, index));
  }
  function tick(): void {
    const own = readPlayer();
    if (!own || !isPlaying.value) return;
    const instantUs = own.currentTime * 1e6;
    if (instantUs >= (parts.value[playing]?.finishUs ?? 0)) return playNext();
    if (shownSource.value === 0) positionUs.value = frames.value ? snap(instantUs) : instantUs;
    ticking = requestAnimationFrame(tick);
  }
  /** After the last part all of it begins again, or stands still at its start. */
  function playNext(): void {
    let next = playing + 1;
    while (next < parts.value.length && !canPlay(parts.value[next])) next += 1;
    const isLast = next >= parts.value.length;
    playing = isLast ? Math.max(0, parts.value.findIndex(canPlay)) : next;
    if (isLast && !isLooping.value) {
      pause();
      const [first] = parts.value;
      if ((first?.source ?? 0) === 0) seek(first?.startUs ?? 0);
      return;
    }
    goTo(parts.value[playing]);
    ticking = requestAnimationFrame(tick);
  }
  /** Brings a part on screen, and what plays it into play. */
  function goTo(part: (TimeRange & { readonly source?: number }) | undefined): void {
    const source = part?.source ?? 0;
    const guest = source === 0 ? null : guestOf(source);
    if (!part || (source > 0 && !guest)) return;
    const before = readPlayer();
    const isOther = source !== shownSource.value;
    if (isOther) before?.pause();
    shownSource.value = source;
    if (guest) guest.currentTime = part.startUs / 1e6;
    else seek(part.startUs);
    if (isOther && isPlaying.value) void readPlayer()?.play().catch(pause);
  }
  function pause(): void {
    element.value?.pause();
    if (shownSource.value > 0) guestOf(shownSource.value)?.pause();
    shownSource.value = 0;
    isPlaying.value = false;
    cancelAnimationFrame(ticking);
  }
  function toggle(): void {
    if (!element.value) return;
    if (isPlaying.value) return pause();
    const isOwn = (part: (typeof parts.value)[number] | undefined) => (part?.source ?? 0) === 0;
    const chosen = options.chosen?.value ?? 0;
    playing = isOwn(parts.value[chosen])
      ? parts.value.findIndex(
          (part) =>
            isOwn(part) &&
            positionUs.value >= part.startUs &&
            positionUs.value < part.finishUs - frameUs.value,
        )
      : chosen;
    const isHere = playing >= 0 && isOwn(parts.value[playing]);
    playing = Math.max(0, playing);
    if (!isHere) goTo(parts.value[playing]);
    seeker?.settle();
    isPlaying.value = true;
    readPlayer()
      ?.play()
      .then(() => (ticking = requestAnimationFrame(tick)))
      .catch(() => (isPlaying.value = false));
  }
  /** Shows where a part of another take begins; of its own one what was on screen before. */
  function show(part: (TimeRange & { readonly source?: number }) | undefined): void {
    pause();
    if ((part?.source ?? 0) > 0) goTo(part);
  }
  /** Another take, or its element once it can be seen, and what seeks in its stead. */
  function attach(next: Playable | null, by: Seeker | null = null): void {
    element.value = next;
    seeker = by;
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
    shownSource,
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
    show,
    step,
    pause,
    toggle,
    attach,
    reset,
  };
}
