/** A run of output frames: first inclusive, last exclusive. */
export interface FrameSpan {
  readonly first: number;
  readonly last: number;
}

/** A chunk lasts at least this long where the take does, so that little is lost at its ends. */
const LEAST_CHUNK_S = 4;
const MOST_CHUNK_S = 30;
const WANTED_CHUNKS = 16;
/** Longest closed group of pictures, in seconds. */
export const GROUP_S = 2;

/** Frames of the longest closed group at this rate. */
export function countGroupFrames(frameRate: number): number {
  return Math.max(1, Math.floor(frameRate * GROUP_S));
}

/**
 * Divides the frames of an output into chunks that are coded one by one: whole groups each, about equally long, so that chunk ends cost
 * nothing that a group would not cost anyway. Every frame lies in exactly one chunk.
 */
export function planChunks(frameCount: number, frameRate: number): FrameSpan[] {
  const group = countGroupFrames(frameRate);
  const seconds = frameCount / frameRate;
  const wantedS = seconds <= LEAST_CHUNK_S * 3 ? GROUP_S : Math.min(MOST_CHUNK_S, Math.max(LEAST_CHUNK_S, seconds / WANTED_CHUNKS));
  const groups = Math.max(1, Math.ceil(frameCount / group));
  const groupsPerChunk = Math.max(1, Math.round((wantedS * frameRate) / group));
  const chunks = Math.max(1, Math.round(groups / groupsPerChunk));
  const edges = Array.from({ length: chunks + 1 }, (_, index) => Math.min(frameCount, Math.round((index * groups) / chunks) * group));
  return edges.slice(1).map((last, index) => ({ first: edges[index] ?? 0, last })).filter((span) => span.last > span.first);
}
