import type { SizePx } from '@apodix/core';

/** What a take is shown by: a video, a frame of it, or a photograph. */
export type ShownPicture = HTMLVideoElement | HTMLCanvasElement | HTMLImageElement;

/** The size of its own picture; null while that is not there yet. */
export function readShownSize(shown: ShownPicture): SizePx | null {
  if (shown instanceof HTMLCanvasElement) return { widthPx: shown.width, heightPx: shown.height };
  if (shown instanceof HTMLImageElement)
    return shown.complete && shown.naturalWidth > 0
      ? { widthPx: shown.naturalWidth, heightPx: shown.naturalHeight }
      : null;
  return shown.readyState >= 2 && shown.videoWidth > 0
    ? { widthPx: shown.videoWidth, heightPx: shown.videoHeight }
    : null;
}
