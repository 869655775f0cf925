/**
 * Steering of constant-quality coding to a size. A chunk of relative weight `w` (the bytes that it takes beside the others at the same
 * quality) coded at rate factor `crf` is expected to take `w · 2^(level − crf / slope)` bytes. The level is learned from chunks that are
 * done; the slope (rate factors that halve the bytes) is about 6 for H.264.
 */
export interface RateModel {
  readonly level: number;
  readonly slope: number;
}

/** One coded chunk. */
export interface ChunkResult {
  readonly chunk: number;
  readonly crf: number;
  readonly bytes: number;
}

export const USUAL_SLOPE = 6;
/** Beyond these H.264 gains nothing that can be seen, or loses everything. */
export const LEAST_CRF = 14;
export const MOST_CRF = 44;
/** How far a chunk may stray from the mean of those before it, so that quality does not pump. */
const MOST_STRAY = 1.5;
/** What a chunk says counts less by this with each one after it: takes change as they go on. */
const FADING = 0.65;
/** How many chunks the first estimate weighs as much as. */
const PRIOR_CHUNKS = 0.6;

export function predictChunkBytes(model: RateModel, weight: number, crf: number): number {
  return weight * 2 ** (model.level - crf / model.slope);
}

/** The level that a coded piece of known weight speaks for. */
export function measureLevel(piece: { readonly weight: number; readonly crf: number; readonly bytes: number }, slope: number): number {
  return Math.log2(Math.max(1, piece.bytes) / piece.weight) + piece.crf / slope;
}

/** The rate factor at which pieces of this total weight take so many bytes. */
export function solveCrf(model: RateModel, weight: number, bytes: number): number {
  return bytes <= 0 ? MOST_CRF : model.slope * (model.level - Math.log2(bytes / weight));
}

/** The model after what has been coded so far: the first estimate counts less the more is known. */
export function learnModel(prior: RateModel, weights: readonly number[], results: readonly ChunkResult[]): RateModel {
  const mean = weights.reduce((sum, weight) => sum + weight, 0) / Math.max(1, weights.length);
  let [total, share] = [prior.level * mean * PRIOR_CHUNKS, mean * PRIOR_CHUNKS];
  for (const [index, result] of results.entries()) {
    const weight = weights[result.chunk] ?? mean;
    const count = weight * FADING ** (results.length - 1 - index);
    total += measureLevel({ ...result, weight }, prior.slope) * count;
    share += count;
  }
  return { level: total / share, slope: prior.slope };
}

export interface SteeringInput {
  readonly prior: RateModel;
  /** Relative weight of every chunk. */
  readonly weights: readonly number[];
  /** Chunks that are done; each only once. */
  readonly results: readonly ChunkResult[];
  /** Rate factors of chunks that are being coded. */
  readonly running: readonly { readonly chunk: number; readonly crf: number }[];
  readonly targetBytes: number;
  readonly leastCrf: number;
}

/** The rate factor for the next chunk: what is left of the target, divided over what is left to do. */
export function suggestChunkCrf(input: SteeringInput): number {
  const { weights, results, running, targetBytes } = input;
  const model = learnModel(input.prior, weights, results);
  const weightOf = (chunk: number) => weights[chunk] ?? 0;
  const begun = new Set([...results, ...running].map((each) => each.chunk));
  const spent = results.reduce((sum, each) => sum + each.bytes, 0) + running.reduce((sum, each) => sum + predictChunkBytes(model, weightOf(each.chunk), each.crf), 0);
  const leftWeight = weights.reduce((sum, weight, chunk) => sum + (begun.has(chunk) ? 0 : weight), 0);
  const wanted = solveCrf(model, leftWeight, targetBytes - spent);
  const before = [...results, ...running].map((each) => each.crf);
  const mean = before.reduce((sum, crf) => sum + crf, 0) / Math.max(1, before.length);
  const tamed = before.length === 0 ? wanted : Math.min(mean + MOST_STRAY, Math.max(mean - MOST_STRAY, wanted));
  return roundCrf(Math.min(MOST_CRF, Math.max(input.leastCrf, tamed)));
}

/** A result outside these shares of the target calls for coding a chunk again. */
export interface RepairInput {
  readonly weights: readonly number[];
  /** Every coded try of every chunk, the last of each being the one in use. */
  readonly tries: readonly ChunkResult[];
  readonly slope: number;
  readonly targetBytes: number;
  /** Least and most bytes that are good. */
  readonly leastBytes: number;
  readonly mostBytes: number;
  readonly leastCrf: number;
}

/**
 * Which chunks to code again, and how, so that the sum comes into the wanted range; none where it lies there already or where nothing
 * more can be done. As few chunks as will do: the one that strays furthest from the common quality in the direction of the
 * correction first, each changed by at most `MOST_REPAIR`.
 */
export function suggestRepairs(input: RepairInput): { readonly chunk: number; readonly crf: number }[] {
  const current = new Map(input.tries.map((each) => [each.chunk, each]));
  const total = [...current.values()].reduce((sum, each) => sum + each.bytes, 0);
  const isOver = total > input.mostBytes;
  if (!isOver && total >= input.leastBytes) return [];
  let missing = input.targetBytes - total;
  const order = [...current.values()].sort((left, right) => (isOver ? left.crf - right.crf : right.crf - left.crf) || right.bytes - left.bytes);
  const repairs: { chunk: number; crf: number }[] = [];
  const most = Math.min(MOST_REPAIR, Math.max(1.2, Math.abs(Math.log2((total + missing) / total)) * input.slope * 1.6));
  for (const each of order) {
    if (isOver ? missing >= 0 : missing <= total * 0.002) break;
    const slope = measureSlope(input.tries.filter((one) => one.chunk === each.chunk)) ?? input.slope;
    const wanted = each.bytes + missing;
    const shift = Math.max(-most, Math.min(most, wanted <= 0 ? most : slope * Math.log2(each.bytes / wanted)));
    const crf = roundCrf(Math.max(input.leastCrf, Math.min(MOST_CRF + 7, each.crf + shift)));
    if (Math.abs(crf - each.crf) < 0.02) continue;
    repairs.push({ chunk: each.chunk, crf });
    missing -= each.bytes * (2 ** ((each.crf - crf) / slope) - 1);
  }
  return repairs;
}

const MOST_REPAIR = 4;

/** Rate factors that halve the bytes, from two tries of the same chunk; null where they say nothing. */
function measureSlope(tries: readonly ChunkResult[]): number | null {
  const [first, last] = [tries.at(-2), tries.at(-1)];
  if (!first || !last || first.bytes === last.bytes || Math.abs(first.crf - last.crf) < 0.1) return null;
  const slope = (last.crf - first.crf) / Math.log2(first.bytes / last.bytes);
  return slope > 2 && slope < 14 ? slope : null;
}

function roundCrf(crf: number): number {
  return Math.round(crf * 50) / 50;
}
