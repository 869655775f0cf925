import { isCostlyToDecode, type SizePx, type VideoFacts } from '@apodix/core';

/**
 * Raised whenever a working copy would come out otherwise; written into it, and looked for when it is opened.
 */
export const INTERMEDIATE_VERSION = 'apodix-working-copy-2';

/** Lines above which an intermediate keeps no more than this; assignments hardly ever ask for more. */
const INTERMEDIATE_SHORT_EDGE = 1080;
/** Smaller than this it is of no use once a limit is changed. */
const LEAST_SHORT_EDGE = 360;
/** A copy of a longer take would fill the disk. */
export const LONGEST_COPIED_US = 900_000_000;

/** Up to this length the intermediate is so fine that nothing is lost by it. */
const FINE_US = 300_000_000;

/** Rate factor of the intermediate: long takes would fill the disk at the finest. */
export function chooseIntermediateCrf(durationUs: number): number {
  return durationUs <= FINE_US ? 8 : 12;
}

/**
 * Size of the intermediate of a take that is costly to decode (HDR, more than 8 bits, or over 1080 lines);
 * null where none is worth it. With `mostLines` it has no more than the limits allow, so that nothing is
 * scaled twice.
 */
export function planIntermediate(
  video: VideoFacts,
  durationUs: number,
  mostLines: number | null = null,
): SizePx | null {
  const short = Math.min(video.widthPx, video.heightPx);
  if (!(isCostlyToDecode(video) || short > INTERMEDIATE_SHORT_EDGE) || durationUs > LONGEST_COPIED_US)
    return null;
  const scale = Math.min(
    1,
    Math.min(INTERMEDIATE_SHORT_EDGE, Math.max(LEAST_SHORT_EDGE, mostLines ?? Infinity)) / short,
  );
  const even = (edge: number) => Math.max(2, Math.round((edge * scale) / 2) * 2);
  return { widthPx: even(video.widthPx), heightPx: even(video.heightPx) };
}
