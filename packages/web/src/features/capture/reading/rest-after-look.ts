/** A look waits at least so long, in ms, so that the page can do something else. */
const LEAST_MS = 10;
/** While it is recorded, looking takes at most this part of one core: the coder comes first. */
const SHARE_WHILE_RECORDING = 0.2;

/**
 * How long to rest after a look at the picture, in ms: so that looks begin `everyMs` apart where they take no
 * longer; and while it is recorded, so that a look of `tookMs` is at most a fifth of the time.
 */
export function restAfterLook(tookMs: number, everyMs: number, isRecording: boolean): number {
  const share = isRecording ? tookMs / SHARE_WHILE_RECORDING - tookMs : 0;
  return Math.max(LEAST_MS, everyMs - tookMs, share);
}
