import { createPlainRecipe, type TakeView } from '@apodix/core';
import { onScopeDispose, shallowRef, watch, type ComputedRef } from 'vue';
import { drawShaped } from '../shape/picture/render-shaped.ts';

const PREVIEW_EDGE_PX = 700;

/** Pictures of takes as their recipes leave them, by take; those that are being drawn are not there yet. */
export function useSheetPictures(takes: ComputedRef<readonly TakeView[]>) {
  const urls = shallowRef<Readonly<Record<string, string>>>({});
  const drawn = new Map<string, string>();
  let isOver = false;
  watch(
    takes,
    async (now) => {
      for (const { id, proxyUrl, recipe } of now) {
        const own = recipe?.recipe ?? createPlainRecipe();
        const wanted = JSON.stringify([proxyUrl, own.picture]);
        if (proxyUrl === null || drawn.get(id) === wanted) continue;
        drawn.set(id, wanted);
        const url = await drawShaped(proxyUrl, own, PREVIEW_EDGE_PX).catch(() => null);
        if (url === null) drawn.delete(id);
        else if (isOver || drawn.get(id) !== wanted) URL.revokeObjectURL(url);
        else keep(id, url);
      }
    },
    { immediate: true },
  );
  function keep(id: string, url: string): void {
    const before = urls.value[id];
    urls.value = { ...urls.value, [id]: url };
    if (before !== undefined) URL.revokeObjectURL(before);
  }
  onScopeDispose(() => {
    isOver = true;
    Object.values(urls.value).forEach((url) => URL.revokeObjectURL(url));
  });
  return urls;
}
