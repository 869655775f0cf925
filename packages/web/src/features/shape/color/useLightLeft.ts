import type { EvenLight, TakeView } from '@apodix/core';
import { onScopeDispose, shallowRef, watch, type ComputedRef } from 'vue';
import type { LightAnswer, LightRequest } from './light.worker.ts';
import { loadPicture } from './load-picture.ts';

/**
 * How a photograph is lit once its lamp is evened out: looked at anew, in a worker. null while nothing is
 * evened out, nobody has looked yet, or nothing tells.
 */
export function useLightLeft(take: ComputedRef<TakeView | null>, light: ComputedRef<EvenLight | null>) {
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
    [() => take.value?.proxyUrl ?? null, light],
    async ([url, own]) => {
      asked += 1;
      const id = asked;
      left.value = null;
      if (!url || !own || !take.value?.facts?.photo) return;
      const corners = take.value.facts.photo.piece?.corners ?? null;
      // A photograph that cannot be loaded is missed on the stage already.
      const picture = await loadPicture(url).catch(() => null);
      if (!picture || id !== asked) return;
      worker ??= start();
      const request: LightRequest = {
        id,
        picture,
        light: JSON.parse(JSON.stringify(own)) as EvenLight,
        corners: corners && (JSON.parse(JSON.stringify(corners)) as EvenLight['corners']),
      };
      worker.postMessage(request);
    },
    { immediate: true },
  );
  onScopeDispose(() => {
    asked += 1;
    worker?.terminate();
  });
  return left;
}
