import { describeLook, judgeLook, type Look, type Part } from '@apodix/core';
import { computed, onScopeDispose, ref, shallowRef, watch, type ShallowRef } from 'vue';
import { restAfterLook } from '../reading/rest-after-look.ts';
import { takeFrame } from '../reading/take-frame.ts';
import { PresenceFinder } from './presence-finder.ts';

/** From the start of a look to that of the next, where a look takes no longer. */
const EVERY_MS = 150;
/**
 * Long edge of what is looked at while lining up: the finders shrink a picture to 128 to 224 points at once,
 * so that more of them only cost time.
 */
const LIVE_EDGE = 384;

/**
 * Whether the wanted parts of the person are in the picture now; looks several times a second, less often
 * while it is recorded.
 */
export function usePresence(
  video: Readonly<ShallowRef<HTMLVideoElement | null>>,
  parts: () => readonly Part[],
  isOn: () => boolean,
  isRecording: () => boolean,
) {
  const look = shallowRef<Look | null>(null);
  const state = ref<'off' | 'opening' | 'on' | 'cannot'>('off');
  /** How many looks there were. */
  const looks = ref(0);
  let finder: PresenceFinder | null = null;
  let timer: ReturnType<typeof setTimeout> | null = null;

  async function begin(): Promise<void> {
    end();
    if (parts().length === 0) return;
    const own = (finder = new PresenceFinder());
    state.value = 'opening';
    try {
      await own.open(parts());
      if (own !== finder) return;
      state.value = 'on';
      void next();
    } catch {
      if (own === finder) giveUp();
    }
  }
  async function next(): Promise<void> {
    const own = finder;
    const startedAt = performance.now();
    const frame = video.value ? await takeFrame(video.value).catch(() => null) : null;
    if (own !== finder || !own) return frame?.close();
    try {
      if (frame) {
        const found = await own.look(frame, LIVE_EDGE);
        if (own !== finder) return;
        look.value = found;
        looks.value += 1;
      }
      const rest = restAfterLook(performance.now() - startedAt, EVERY_MS, isRecording());
      timer = setTimeout(() => void next(), frame ? rest : 300);
    } catch {
      if (own === finder) giveUp();
    }
  }
  function giveUp(): void {
    end();
    state.value = 'cannot';
  }
  function end(): void {
    if (timer) clearTimeout(timer);
    finder?.end();
    finder = null;
    look.value = null;
    state.value = 'off';
  }
  watch([isOn, () => parts().join()], ([isNow]) => (isNow ? void begin() : end()), { immediate: true });
  onScopeDispose(end);

  return {
    state,
    look,
    looks,
    advice: computed(() => {
      if (parts().length === 0) return null;
      if (state.value === 'opening') return { text: 'Getting ready to look…', isGood: true };
      if (state.value === 'cannot')
        return { text: 'This device cannot check it: look for yourself.', isGood: false };
      return look.value ? describeLook(judgeLook(look.value), parts()) : null;
    }),
  };
}
