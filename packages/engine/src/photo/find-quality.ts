/** Bytes of a picture, or of several together, coded at one quality. */
export interface QualityCoders<T> {
  /** The coder that the file is made with. */
  readonly code: (quality: number) => Promise<T>;
  /** A quicker coder whose bytes run alongside those of the first. */
  readonly probe: (quality: number) => Promise<number>;
  readonly sizeOf: (coded: T) => number;
}

export interface FoundQuality<T> {
  readonly coded: T;
  readonly quality: number;
  readonly fits: boolean;
  /** How often the real coder ran. */
  readonly probes: number;
}

/**
 * The best whole quality between `least` and `best` that fits the bytes: found by bisection on the quick coder, scaled by what one run of
 * the real coder took, then walked to the exact edge with the real one. Where not even `least` fits, that is given, and told.
 */
export async function findQuality<T>(coders: QualityCoders<T>, maxBytes: number | null, least: number, best: number): Promise<FoundQuality<T>> {
  let probes = 0;
  const known = new Map<number, T>();
  const code = async (quality: number) => {
    const before = known.get(quality);
    if (before !== undefined) return before;
    probes += 1;
    const coded = await coders.code(quality);
    known.set(quality, coded);
    return coded;
  };
  const fits = (coded: T) => maxBytes === null || coders.sizeOf(coded) <= maxBytes;
  const finest = await code(best);
  if (fits(finest) || best <= least) return { coded: finest, quality: best, fits: fits(finest), probes };
  const share = coders.sizeOf(finest) / Math.max(1, await coders.probe(best));
  let [low, high] = [least, best - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((await coders.probe(middle)) * share <= (maxBytes ?? Infinity)) low = middle;
    else high = middle - 1;
  }
  let quality = low;
  while (quality > least && !fits(await code(quality))) quality -= 1;
  while (quality + 1 < best && fits(await code(quality)) && fits(await code(quality + 1))) quality += 1;
  const coded = await code(quality);
  return { coded, quality, fits: fits(coded), probes };
}
