import { afterEach, expect, it, vi } from 'vitest';
import { effectScope, nextTick, ref, shallowRef, toRef, type EffectScope } from 'vue';
import type { FrameReader } from './open-frame-reader.ts';
import { useSoughtFrame } from './useSoughtFrame.ts';

let scope: EffectScope | null = null;
afterEach(() => {
  scope?.stop();
  vi.useRealTimers();
});

/** A reader whose answers come when the test says so. */
async function begin(isReadable = true) {
  vi.useFakeTimers();
  const asked: { us: number; answer: (frame: unknown) => void }[] = [];
  const reader: FrameReader = {
    read: (us) => new Promise((resolve) => asked.push({ us, answer: resolve as never })),
    close: vi.fn(),
  };
  const video = document.createElement('video');
  const isPlaying = ref(false);
  const take = shallowRef({ url: '/film.mp4' });
  const open = vi.fn(() => Promise.resolve(isReadable ? reader : null));
  scope = effectScope();
  const made = scope.run(() =>
    useSoughtFrame({
      url: toRef(() => take.value.url),
      video: shallowRef(video),
      canvas: shallowRef(document.createElement('canvas')),
      isPlaying,
      open,
    }),
  );
  if (!made) throw new Error('There is no scope.');
  await vi.runAllTimersAsync();
  const frame = () => ({ timestamp: 1, displayWidth: 4, displayHeight: 4, close: vi.fn() });
  return { ...made, video, asked, frame, isPlaying, reader, take, open };
}
const settleDown = async () => {
  await Promise.resolve();
  await nextTick();
};

it('shows the frame first; the video follows once nobody seeks on', async () => {
  const { seeker, video, asked, frame, isShown } = await begin();
  seeker.seek(3);
  expect([asked[0]?.us, video.currentTime]).toEqual([3_000_000, 0]);
  asked[0]?.answer(frame());
  await settleDown();
  expect([isShown.value, video.currentTime]).toEqual([true, 0]);
  await vi.advanceTimersByTimeAsync(150);
  expect(video.currentTime).toBe(3);
  video.dispatchEvent(new Event('seeked'));
  expect(isShown.value).toBe(false);
});

it('stays where the take comes anew with the same film, which is not opened again', async () => {
  const { seeker, asked, frame, isShown, take, open, reader } = await begin();
  seeker.seek(3);
  asked[0]?.answer(frame());
  await settleDown();
  take.value = { ...take.value };
  await settleDown();
  expect([isShown.value, open.mock.calls.length]).toEqual([true, 1]);
  take.value = { url: '/other.mp4' };
  await settleDown();
  expect([isShown.value, open.mock.calls]).toEqual([false, [['/film.mp4'], ['/other.mp4']]]);
  expect(reader.close).toHaveBeenCalledOnce();
});

it('an answer that is no longer wanted is closed and not shown', async () => {
  const { seeker, video, asked, frame, isShown } = await begin();
  seeker.seek(3);
  seeker.seek(5);
  const late = frame();
  asked[0]?.answer(late);
  await settleDown();
  expect(late.close).toHaveBeenCalledOnce();
  expect(isShown.value).toBe(false);
  asked[1]?.answer(null);
  await settleDown();
  // It could not be read: the video goes there at once.
  expect(video.currentTime).toBe(5);
});

it('the video is sought at once where frames cannot be read, while it plays, and before it plays', async () => {
  const none = await begin(false);
  none.seeker.seek(2);
  expect(none.video.currentTime).toBe(2);
  scope?.stop();
  const { seeker, video, isPlaying, asked, reader } = await begin();
  seeker.seek(4);
  seeker.settle();
  expect(video.currentTime).toBe(4);
  isPlaying.value = true;
  seeker.seek(6);
  expect([video.currentTime, asked.length]).toEqual([6, 1]);
  scope?.stop();
  expect(reader.close).toHaveBeenCalledOnce();
});
