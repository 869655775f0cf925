/** One try of the second pass: what it was aimed at and what it came to. */
export interface RateTry {
  readonly videoBps: number;
  readonly sizeBytes: number;
}

export const MAX_TRIES = 4;
/** A result between these shares of the limit is good; below, another try may use the room that is left. */
const LOWEST_SHARE = 0.97;
const AIMED_SHARE = 0.99;

/**
 * The rate for the next second pass, or null where the best try so far is good enough or nothing better can
 * be hoped for. `otherBytes` are the bytes of the file that do not depend on the picture's rate. Once the
 * limit lies between two tries the next one is interpolated in the logarithms of rate and size.
 */
export function suggestNextRate(
  tries: readonly RateTry[],
  maxBytes: number,
  otherBytes: number,
  usefulBps: number,
): number | null {
  const last = tries.at(-1);
  if (!last || tries.length >= MAX_TRIES) return null;
  const pictureOf = (each: RateTry) => Math.max(1, each.sizeBytes - otherBytes);
  const under = tries
    .filter((each) => each.sizeBytes <= maxBytes)
    .sort((left, right) => right.sizeBytes - left.sizeBytes)[0];
  const over = tries
    .filter((each) => each.sizeBytes > maxBytes)
    .sort((left, right) => left.sizeBytes - right.sizeBytes)[0];
  if (under && (under.sizeBytes >= maxBytes * LOWEST_SHARE || under.videoBps >= usefulBps)) return null;
  // More is asked for and no more comes: the picture is as fine as it gets.
  const before = tries.at(-2);
  if (before && last.videoBps > before.videoBps * 1.01 && last.sizeBytes < before.sizeBytes * 1.003)
    return null;
  const aimBytes = Math.max(1, maxBytes * AIMED_SHARE - otherBytes);
  let next: number;
  if (under && over) {
    const slope = Math.log(over.videoBps / under.videoBps) / Math.log(pictureOf(over) / pictureOf(under));
    next = under.videoBps * (aimBytes / pictureOf(under)) ** slope;
  } else {
    next = last.videoBps * (aimBytes / pictureOf(last));
    if (over && !under) next = Math.min(next, last.videoBps * 0.98);
  }
  next = Math.floor(Math.min(next, usefulBps));
  return tries.some((each) => Math.abs(each.videoBps / next - 1) < 0.002) ? null : next;
}
