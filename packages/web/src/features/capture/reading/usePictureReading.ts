import { onScopeDispose, shallowRef, watch, type ShallowRef } from 'vue';
import type { ReadingAnswer } from './reading.worker.ts';
import { restAfterLook } from './rest-after-look.ts';
import { takeFrame } from './take-frame.ts';

/**
 * From the start of a look to that of the next; a worker that is still busy is not asked again. A piece is
 * followed closely; light and lean change slowly, and the finders of people need the time.
 */
const EVERY_MS = { piece: 160, plain: 280 } as const;

export interface PictureReadingOptions {
  readonly isOn: () => boolean;
  readonly isRecording: () => boolean;
  readonly wantsPiece: () => boolean;
  readonly wantsCard: () => boolean;
}

/**
 * Figures of the picture that a video element shows, several times a second, worked out in a worker; less
 * often while it is recorded.
 */
export function usePictureReading(
  video: Readonly<ShallowRef<HTMLVideoElement | null>>,
  { isOn, isRecording, wantsPiece, wantsCard }: PictureReadingOptions,
) {
  const answer = shallowRef<ReadingAnswer | null>(null);
  const looks = shallowRef(0);
  let worker: Worker | null = null;
  let timer: ReturnType<typeof setTimeout> | null = null;
  let startedAt = 0;

  function begin(): void {
    worker ??= new Worker(new URL('./reading.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<{ answer?: ReadingAnswer }>) => {
      if (data.answer) {
        answer.value = data.answer;
        looks.value += 1;
      }
      const everyMs = EVERY_MS[wantsPiece() ? 'piece' : 'plain'];
      wait(data.answer ? restAfterLook(performance.now() - startedAt, everyMs, isRecording()) : 1000);
    };
    wait(0);
  }
  function wait(ms: number): void {
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => void look(), ms);
  }
  async function look(): Promise<void> {
    if (!isOn() || !worker) return;
    startedAt = performance.now();
    const frame = video.value ? await takeFrame(video.value).catch(() => null) : null;
    if (!frame) return wait(300);
    worker.postMessage({ frame, wantsPiece: wantsPiece(), wantsCard: wantsCard() }, [frame]);
  }
  function end(): void {
    if (timer) clearTimeout(timer);
    worker?.terminate();
    worker = null;
    answer.value = null;
  }
  watch(isOn, (isNow) => (isNow ? begin() : end()), { immediate: true });
  onScopeDispose(end);
  return { answer, looks };
}
