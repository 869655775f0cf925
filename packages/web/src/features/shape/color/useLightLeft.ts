import type { EvenLight, Ringed } from '@apodix/core';
import { onScopeDispose, shallowRef, watch } from 'vue';
import type { LightAnswer, LightRequest } from './light.worker.ts';
import { loadPicture } from './load-picture.ts';

/** A photograph, how its lamp is evened out, and what in it tells of its light; null where nothing does. */
export interface LitPhotograph {
  readonly url: string | null;
  readonly light: EvenLight | null;
  readonly by: Ringed | null;
}

/**
 * How a photograph is lit once its lamp is evened out: looked at anew, in a worker. null while nothing is
 * evened out, nobody has looked yet, or nothing tells.
 */
export function useLightLeft(read: () => LitPhotograph) {
  const left = shallowRef<EvenLight | null>(null);
  let [asked, worker] = [0, null as Worker | null];
  function start(): Worker {
    const started = new Worker(new URL('./light.worker.ts', import.meta.url), { type: 'module' });
    started.onmessage = ({ data }: MessageEvent<LightAnswer>) => {
      if (data.id === asked) left.value = data.left?.even ?? null;
    };
    return started;
  }
  watch(
    // By what they say: a take comes anew whenever anything of it does.
    () => JSON.stringify(read()),
    async (told) => {
      asked += 1;
      const id = asked;
      left.value = null;
      const { url, light, by } = JSON.parse(told) as LitPhotograph;
      if (!url || !light) return;
      // A photograph that cannot be loaded is missed on the stage already.
      const picture = await loadPicture(url).catch(() => null);
      if (!picture || id !== asked) return;
      worker ??= start();
      worker.postMessage({ id, picture, light, by } satisfies LightRequest);
    },
    { immediate: true },
  );
  onScopeDispose(() => {
    asked += 1;
    worker?.terminate();
  });
  return left;
}
