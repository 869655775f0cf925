import type { ContainerId } from '@apodix/core';
import type { KnownEarly } from '../inspect/inspect-timed.ts';

/** Points that may have to be decoded to show one frame: what a plain machine does in some 50 ms. */
const MOST_POINTS = 32_000_000;
const CONTAINERS = new Set<ContainerId>(['mp4', 'mov']);
const SOUNDS = new Set(['aac', 'mp3']);
/** Transfers of standard range, as FFmpeg calls them. */
const PLAIN = new Set(['bt709', 'smpte170m', 'bt470bg']);

/**
 * Whether a browser plays and seeks a recording as well as an editing proxy of it, so that none is needed:
 * plain H.264, upright, standard range, with keyframes close together, from time 0 on, sound that every
 * browser plays.
 */
export function seeksWell(
  container: ContainerId,
  { video, sound, frames, keyframesUs, isProgressive }: KnownEarly,
): boolean {
  if (!video || !frames || !CONTAINERS.has(container)) return false;
  const isPlain =
    video.codec === 'h264' &&
    video.chroma === '4:2:0' &&
    video.bitDepth === 8 &&
    video.hdr === null &&
    (video.color.transfer === null || PLAIN.has(video.color.transfer)) &&
    video.color.range !== 'full' &&
    isProgressive &&
    video.rotationDegrees === 0 &&
    video.pixelAspect.numerator === video.pixelAspect.denominator &&
    video.startUs === 0;
  const isHeard = !sound || (SOUNDS.has(sound.codec) && sound.channels <= 2 && sound.startUs === 0);
  return isPlain && isHeard && countWorstPoints(video, frames.timesUs, keyframesUs) <= MOST_POINTS;
}

/** Points from a keyframe to the frame before the next, where that is the most. */
function countWorstPoints(
  video: { readonly codedWidthPx: number; readonly codedHeightPx: number },
  timesUs: readonly number[],
  keyframesUs: readonly number[],
): number {
  const keys = new Set(keyframesUs);
  let [worst, run] = [0, 0];
  for (const timeUs of timesUs) {
    run = keys.has(timeUs) ? 1 : run + 1;
    worst = Math.max(worst, run);
  }
  return worst * video.codedWidthPx * video.codedHeightPx;
}
