import type { SizePx } from '@apodix/core';

const PROXY_LONG_EDGE = 854;

/** Upright size of the editing proxy of a take; never larger than the take, both edges even. */
export function measureProxy(video: SizePx): SizePx {
  const scale = Math.min(1, PROXY_LONG_EDGE / Math.max(video.widthPx, video.heightPx));
  const even = (edge: number) => Math.max(2, Math.round((edge * scale) / 2) * 2);
  return { widthPx: even(video.widthPx), heightPx: even(video.heightPx) };
}
