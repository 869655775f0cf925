import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue';
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
  const isShown = ref(false);
  /** Counts what was drawn, for what looks at it. */
  const drawn = ref(0);
  const reader = shallowRef<FrameReader | null>(null);
  /** What was sought last, and where the video is still to go, in seconds. */
  let latest = -1;
  let wanted: number | null = null;
  let resting: ReturnType<typeof setTimeout> | undefined;

  let opened = 0;
  watch(
    [url, video],
    async ([next, element]) => {
      opened += 1;
      const own = opened;
      settle();
      reader.value?.close();
      reader.value = null;
      isShown.value = false;
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
    const frame = await from.read(seconds * 1e6);
    if (latest !== seconds) return frame?.close();
    const target = canvas.value;
    const isThere = wanted === null && !video.value?.seeking;
    if (!frame || !target || isThere || isPlaying.value) {
      frame?.close();
      return settle();
    }
    if (target.width !== frame.displayWidth) target.width = frame.displayWidth;
    if (target.height !== frame.displayHeight) target.height = frame.displayHeight;
    target.getContext('2d')?.drawImage(frame, 0, 0);
    target.dataset['us'] = String(frame.timestamp);
    frame.close();
    isShown.value = true;
    drawn.value += 1;
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
    if (wanted === null && !video.value?.seeking) isShown.value = false;
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
    if (playing) isShown.value = false;
  });
  onScopeDispose(() => {
    opened += 1;
    clearTimeout(resting);
    video.value?.removeEventListener('seeked', hide);
    reader.value?.close();
  });
  return { isShown, drawn, seeker };
}
