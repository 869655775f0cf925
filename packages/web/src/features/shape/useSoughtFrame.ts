import { computed, onScopeDispose, shallowRef, watch, type Ref } from 'vue';
import type { FrameReader } from './open-frame-reader.ts';
import type { Seeker } from './useFramePlayer.ts';

export interface SoughtFrameOptions {
  readonly url: Readonly<Ref<string | null>>;
  readonly video: Readonly<Ref<HTMLVideoElement | null>>;
  readonly canvas: Readonly<Ref<HTMLCanvasElement | null>>;
  readonly isPlaying: Readonly<Ref<boolean>>;
  /** What reads single frames; loaded when it is first of use. */
  readonly open?: (url: string) => Promise<FrameReader | null>;
}

/** Nothing else is sought for so long: then the video follows; and where the frame is long in coming. */
const [REST_MS, LATE_MS] = [120, 250];
const openReader = async (url: string) => (await import('./open-frame-reader.ts')).openFrameReader(url);

/**
 * Shows the frame that is sought on a canvas of its own, read from the film; the video, which takes longer,
 * follows once nobody seeks on. Where frames cannot be read the video is sought at once.
 */
export function useSoughtFrame(options: SoughtFrameOptions) {
  const { url, video, canvas, isPlaying, open = openReader } = options;
  /** The one on the canvas, as it was decoded; null where the video itself is shown. */
  const frame = shallowRef<VideoFrame | null>(null);
  const isShown = computed(() => frame.value !== null);
  function keep(next: VideoFrame | null): void {
    frame.value?.close();
    frame.value = next;
  }
  const reader = shallowRef<FrameReader | null>(null);
  /** What was sought last, and where the video is still to go, in seconds. */
  let latest = -1;
  let wanted: number | null = null;
  let resting: ReturnType<typeof setTimeout> | undefined;

  let opened = 0;
  watch(
    // Refs themselves would be told of takes that come anew with the same film.
    [() => url.value, () => video.value],
    async ([next, element]) => {
      opened += 1;
      const own = opened;
      settle();
      reader.value?.close();
      reader.value = null;
      keep(null);
      if (!next || !element) return;
      const found = await open(next).catch(() => null);
      if (own === opened) reader.value = found;
      else found?.close();
    },
    { immediate: true },
  );

  function settle(): void {
    clearTimeout(resting);
    if (wanted !== null && video.value) video.value.currentTime = wanted;
    wanted = null;
  }
  async function show(seconds: number, from: FrameReader): Promise<void> {
    const next = await from.read(seconds * 1e6);
    if (latest !== seconds) return next?.close();
    const target = canvas.value;
    const isThere = wanted === null && !video.value?.seeking;
    if (!next || !target || isThere || isPlaying.value) {
      next?.close();
      return settle();
    }
    if (target.width !== next.displayWidth) target.width = next.displayWidth;
    if (target.height !== next.displayHeight) target.height = next.displayHeight;
    target.getContext('2d')?.drawImage(next, 0, 0);
    target.dataset['us'] = String(next.timestamp);
    keep(next);
    clearTimeout(resting);
    resting = setTimeout(settle, REST_MS);
  }
  const seeker: Seeker = {
    seek: (seconds) => {
      clearTimeout(resting);
      [latest, wanted] = [seconds, seconds];
      if (!reader.value || isPlaying.value) return settle();
      resting = setTimeout(settle, LATE_MS);
      void show(seconds, reader.value);
    },
    settle,
  };

  const hide = () => {
    if (wanted === null && !video.value?.seeking) keep(null);
  };
  watch(
    video,
    (next, before) => {
      before?.removeEventListener('seeked', hide);
      next?.addEventListener('seeked', hide);
    },
    { immediate: true },
  );
  watch(isPlaying, (playing) => {
    if (playing) keep(null);
  });
  onScopeDispose(() => {
    opened += 1;
    clearTimeout(resting);
    video.value?.removeEventListener('seeked', hide);
    keep(null);
    reader.value?.close();
  });
  return { isShown, frame, seeker };
}
