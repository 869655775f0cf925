import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue';
import type { FrameReader } from './open-frame-reader.ts';
import { INTO_FRAME_US } from './useFramePlayer.ts';

export interface SoughtFrameOptions {
  readonly url: Readonly<Ref<string | null>>;
  readonly video: Readonly<Ref<HTMLVideoElement | null>>;
  readonly canvas: Readonly<Ref<HTMLCanvasElement | null>>;
  readonly positionUs: Readonly<Ref<number>>;
  readonly isPlaying: Readonly<Ref<boolean>>;
}

/** The frame that is sought, on a canvas of its own for as long as the video is on its way to it. */
export function useSoughtFrame({ url, video, canvas, positionUs, isPlaying }: SoughtFrameOptions) {
  const isShown = ref(false);
  /** Counts what was drawn, for what looks at it. */
  const drawn = ref(0);
  const reader = shallowRef<FrameReader | null>(null);

  let opened = 0;
  watch(
    [url, video],
    async ([next, element]) => {
      opened += 1;
      const own = opened;
      reader.value?.close();
      reader.value = null;
      isShown.value = false;
      if (!next || !element) return;
      const { openFrameReader } = await import('./open-frame-reader.ts');
      // Whoever cannot read frames waits for the element.
      const found = await openFrameReader(next).catch(() => null);
      if (own === opened) reader.value = found;
      else found?.close();
    },
    { immediate: true },
  );

  async function show(): Promise<void> {
    const frame = await reader.value?.read(positionUs.value + INTO_FRAME_US);
    if (!frame) return;
    const target = canvas.value;
    if (target && video.value?.seeking && !isPlaying.value) {
      if (target.width !== frame.displayWidth) target.width = frame.displayWidth;
      if (target.height !== frame.displayHeight) target.height = frame.displayHeight;
      target.getContext('2d')?.drawImage(frame, 0, 0);
      target.dataset['us'] = String(frame.timestamp);
      isShown.value = true;
      drawn.value += 1;
    }
    frame.close();
  }
  watch(positionUs, () => {
    if (!isPlaying.value) void show();
  });

  const hide = () => {
    if (!video.value?.seeking) isShown.value = false;
  };
  watch(video, (next, before) => {
    before?.removeEventListener('seeked', hide);
    next?.addEventListener('seeked', hide);
  });
  watch(isPlaying, (playing) => {
    if (playing) isShown.value = false;
  });
  onScopeDispose(() => {
    opened += 1;
    video.value?.removeEventListener('seeked', hide);
    reader.value?.close();
  });
  return { isShown, drawn };
}
