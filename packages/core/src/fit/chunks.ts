/** A run of output frames: first inclusive, last exclusive. */
export interface FrameSpan {
  readonly first: number;
  readonly last: number;
}

const MOST_CHUNK_S = 30;
/** Each chunk takes this share of what is left, so that what the last ones still miss is little. */
const CHUNK_SHARE = 0.22;
/** Longest closed group of pictures, in seconds. */
export const GROUP_S = 2;

/** Frames of the longest closed group at this rate. */
export function countGroupFrames(frameRate: number): number {
  return Math.max(1, Math.floor(frameRate * GROUP_S));
}

/**
 * Divides the frames of an output into chunks that are coded one by one: whole groups each, so that chunk
 * ends cost nothing that a group would not cost anyway, and ever shorter towards the end, so that the size
 * can be steered to. Every frame lies in exactly one chunk.
 */
export function planChunks(frameCount: number, frameRate: number): FrameSpan[] {
  const group = countGroupFrames(frameRate);
  const mostGroups = Math.max(1, Math.round((MOST_CHUNK_S * frameRate) / group));
  const spans: FrameSpan[] = [];
  for (let first = 0; first < frameCount;) {
    const groupsLeft = Math.ceil((frameCount - first) / group);
    const groups = Math.max(1, Math.min(mostGroups, Math.round(groupsLeft * CHUNK_SHARE)));
    // Less than half a group at the very end is no chunk of its own.
    const last = frameCount - (first + groups * group) < group / 2 ? frameCount : first + groups * group;
    spans.push({ first, last });
    first = last;
  }
  return spans;
}
