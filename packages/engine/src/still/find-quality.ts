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

/** What the real coder takes beside the quick one, until it is known. */
const USUAL_SHARE = 0.72;

/**
 * The best whole quality between `least` and `best` that fits the bytes: found by bisection on the quick
 * coder, scaled by what the real one takes beside it, then walked to the exact edge with the real one. Where
 * not even `least` fits, that is given, and told.
 */
export async function findQuality<T>(
  coders: QualityCoders<T>,
  maxBytes: number | null,
  least: number,
  best: number,
): Promise<FoundQuality<T>> {
  const coded = new Map<number, T>();
  const probed = new Map<number, number>();
  const code = async (quality: number) => remember(coded, quality, coders.code);
  const probe = async (quality: number) => remember(probed, quality, coders.probe);
  const most = maxBytes ?? Infinity;
  const fits = async (quality: number) => coders.sizeOf(await code(quality)) <= most;
  const guess = async (share: number) => {
    let [low, high] = [least, best];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((await probe(middle)) * share <= most) low = middle;
      else high = middle - 1;
    }
    return low;
  };
  let quality = maxBytes === null ? best : await guess(USUAL_SHARE);
  if (maxBytes !== null)
    quality = await guess(coders.sizeOf(await code(quality)) / Math.max(1, await probe(quality)));
  while (quality > least && !(await fits(quality))) quality -= 1;
  while (quality < best && (await fits(quality)) && (await fits(quality + 1))) quality += 1;
  return { coded: await code(quality), quality, fits: await fits(quality), probes: coded.size };
}

async function remember<V>(
  known: Map<number, V>,
  quality: number,
  work: (quality: number) => Promise<V>,
): Promise<V> {
  const before = known.get(quality);
  if (before !== undefined) return before;
  const found = await work(quality);
  known.set(quality, found);
  return found;
}
