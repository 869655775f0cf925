/**
 * Which frames stand for a piece where not all are compared: about one in `every`, spread by multiples of the
 * golden ratio, so that they never fall into step with the pattern in which a coder spends its bits (frames
 * that others are foretold from are finer than those between).
 */
const [STEP, ROUND] = [309, 500];

/** Whether the frame of that number, counted from 0, is one of them. Frame 0 always is. */
export function isKeptFrame(frame: number, every: number): boolean {
  return (frame * STEP) % ROUND < ROUND / every;
}

/**
 * The same as an expression of FFmpeg's `select`, for a stream whose first frame has the number `first` and
 * that holds one frame in `step`.
 */
export function writeKeptFrames(every: number, first = 0, step = 1): string {
  return `lt(mod((n*${step}+${first})*${STEP},${ROUND}),${(ROUND / every).toFixed(6)})`;
}

/** The numbers of those among the frames from `first` up to, but not including, `last`. */
export function listKeptFrames(every: number, first: number, last: number): number[] {
  return Array.from({ length: Math.max(0, last - first) }, (_, index) => first + index).filter((frame) =>
    isKeptFrame(frame, every),
  );
}
