/** How much changes from picture to picture, at even steps. */
export interface MovementCourse {
  readonly stepUs: number;
  /** Mean difference of brightness, 0 to 255. */
  readonly change: Float32Array;
}

export interface FoundMovement {
  readonly startUs: number;
  readonly finishUs: number;
  readonly confidence: number;
}

/** Stillness that is longer ends a movement. */
const PAUSE_US = 1_200_000;
/** Movement changes so much more than the noise of still pictures. */
const LEAST_RISE = 1.6;
/** Shorter ones are a twitch. */
const LEAST_US = 250_000;

/**
 * The longest and strongest stretch of movement between two of stillness. null where nothing moves more than
 * the noise of the camera does.
 */
export function findMovement({ stepUs, change }: MovementCourse): FoundMovement | null {
  const sorted = Float32Array.from(change).sort();
  const at = (share: number) => sorted[Math.floor((sorted.length - 1) * share)] ?? 0;
  // Still pictures are the lowest of all; how they scatter is seen below their middle.
  const [low, still, high] = [at(0.02), at(0.12), at(0.97)];
  const least = still + Math.max(4 * (still - low), 0.12 * (high - still), 0.05);
  if (high < LEAST_RISE * still + 0.15 || high < least) return null;
  const spans: { from: number; to: number; sum: number }[] = [];
  change.forEach((each, index) => {
    if (each < least) return;
    const last = spans.at(-1);
    if (last && (index - last.to) * stepUs <= PAUSE_US)
      Object.assign(last, { to: index + 1, sum: last.sum + each });
    else spans.push({ from: index, to: index + 1, sum: each });
  });
  const long = spans.filter(({ from, to }) => (to - from) * stepUs >= LEAST_US);
  const [main, second] = long.sort((left, right) => right.sum - left.sum);
  if (!main) return null;
  const rival = second ? second.sum / main.sum : 0;
  return {
    startUs: main.from * stepUs,
    finishUs: main.to * stepUs,
    confidence: Math.max(0, Math.min(1, 1.25 - 1.5 * rival)),
  };
}
