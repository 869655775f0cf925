import type { SizePx } from '@apodix/core';

/** What a take is shown by: a video, or a photograph. */
export type ShownPicture = HTMLVideoElement | HTMLImageElement;

/** The size of its own picture; null while that is not there yet. */
export function readShownSize(shown: ShownPicture): SizePx | null {
  if (shown instanceof HTMLImageElement)
    return shown.complete && shown.naturalWidth > 0
      ? { widthPx: shown.naturalWidth, heightPx: shown.naturalHeight }
      : null;
  return shown.readyState >= 2 && shown.videoWidth > 0
    ? { widthPx: shown.videoWidth, heightPx: shown.videoHeight }
    : null;
}
