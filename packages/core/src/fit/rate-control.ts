/**
 * Steering of constant-quality coding to a size. A chunk of relative weight `w` (the bytes that it takes
 * beside the others at the same quality) coded at rate factor `crf` is expected to take `w · 2^(level − crf /
 * slope)` bytes. The level is learned from chunks that are done; the slope (rate factors that halve the
 * bytes) is about 6 for H.264.
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
/**
 * Rate factors that halve the bytes: fewest where fine noise is just lost or kept, most where hardly anything
 * is left to lose.
 */
export const LEAST_SLOPE = 1.2;
export const MOST_SLOPE = 14;
/** Beyond these H.264 gains nothing that can be seen, or loses everything. */
export const LEAST_CRF = 14;
export const MOST_CRF = 44;
/** How far a chunk may stray from the mean of those before it, so that quality does not pump. */
const MOST_STRAY = 1.5;
/** What a chunk says counts less by this with each one after it: takes change as they go on. */
const FADING = 0.65;
/** How many chunks the first estimate weighs as much as, at the least. */
const PRIOR_CHUNKS = 0.6;
/**
 * Samples are taken from everywhere, but coded apart: a second of them tells a little less of the whole than
 * one that is coded with it.
 */
const WORTH_OF_SAMPLES = 0.8;

export function predictChunkBytes(model: RateModel, weight: number, crf: number): number {
  return weight * 2 ** (model.level - crf / model.slope);
}

/** The level that a coded piece of known weight speaks for. */
export function measureLevel(
  piece: { readonly weight: number; readonly crf: number; readonly bytes: number },
  slope: number,
): number {
  return Math.log2(Math.max(1, piece.bytes) / piece.weight) + piece.crf / slope;
}

/** The rate factor at which pieces of this total weight take so many bytes. */
export function solveCrf(model: RateModel, weight: number, bytes: number): number {
  return bytes <= 0 ? MOST_CRF : model.slope * (model.level - Math.log2(bytes / weight));
}

/**
 * The model after what has been coded so far: the first estimate counts less the more is known.
 * `sampledShare` is the share of the whole that it was taken from.
 */
export function learnModel(
  prior: RateModel,
  weights: readonly number[],
  results: readonly ChunkResult[],
  sampledShare = 0,
): RateModel {
  const all = weights.reduce((sum, weight) => sum + weight, 0);
  const mean = all / Math.max(1, weights.length);
  const worth = Math.max(mean * PRIOR_CHUNKS, all * sampledShare * WORTH_OF_SAMPLES);
  let [total, share] = [prior.level * worth, worth];
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
  /** Share of the whole that the first estimate was taken from, 0 to 1. */
  readonly sampledShare?: number;
  /** Relative weight of every chunk. */
  readonly weights: readonly number[];
  /** Chunks that are done, in order from the first. */
  readonly results: readonly ChunkResult[];
  readonly targetBytes: number;
  readonly leastCrf: number;
}

/** The rate factor for all chunks that are left: what is left of the target, divided over them. */
export function suggestChunkCrf(input: SteeringInput): number {
  const { weights, results, targetBytes } = input;
  const model = learnModel(input.prior, weights, results, input.sampledShare);
  const spent = results.reduce((sum, each) => sum + each.bytes, 0);
  const leftWeight = weights.slice(results.length).reduce((sum, weight) => sum + weight, 0);
  const wanted = solveCrf(model, leftWeight, targetBytes - spent);
  const mean = results.reduce((sum, each) => sum + each.crf, 0) / Math.max(1, results.length);
  const tamed =
    results.length === 0 ? wanted : Math.min(mean + MOST_STRAY, Math.max(mean - MOST_STRAY, wanted));
  return roundCrf(Math.min(MOST_CRF, Math.max(input.leastCrf, tamed)));
}

/** More than this share beside the target, and coding begins again from here with another quality. */
const OFF_COURSE = 0.05;
/** With less than this share left to do, single chunks are mended afterwards instead. */
const LEAST_LEFT = 0.12;

/** Whether going on at this quality would miss the target by so much that it is better changed now. */
export function isOffCourse(input: SteeringInput, crf: number): boolean {
  const { weights, results, targetBytes } = input;
  const model = learnModel(input.prior, weights, results, input.sampledShare);
  const left = weights.slice(results.length).reduce((sum, weight) => sum + weight, 0);
  const all = weights.reduce((sum, weight) => sum + weight, 0);
  if (left / all < LEAST_LEFT) return false;
  const expected = results.reduce((sum, each) => sum + each.bytes, 0) + predictChunkBytes(model, left, crf);
  const isFinest = crf <= input.leastCrf && expected < targetBytes;
  return (
    !isFinest &&
    Math.abs(expected / targetBytes - 1) > OFF_COURSE &&
    Math.abs(suggestChunkCrf(input) - crf) > 0.3
  );
}

/** A result outside these shares of the target calls for coding a chunk again. */
export interface RepairInput {
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
 * The chunk to code again, and how, so that the sum comes into the wanted range; null where it lies there
 * already or where nothing more can be done. Of the chunks that a small change is enough for, the lightest;
 * else the heaviest, changed by as much as is bearable. Chunks whose quality strays in the direction of the
 * correction come first.
 */
export function suggestRepair(input: RepairInput): { readonly chunk: number; readonly crf: number } | null {
  const current = [...new Map(input.tries.map((each) => [each.chunk, each])).values()];
  const total = current.reduce((sum, each) => sum + each.bytes, 0);
  const isOver = total > input.mostBytes;
  if (!isOver && total >= input.leastBytes) return null;
  const missing = input.targetBytes - total;
  const meanCrf = current.reduce((sum, each) => sum + each.crf * each.bytes, 0) / total;
  const known = current
    .map((each) => measureSlope(input.tries.filter((one) => one.chunk === each.chunk)))
    .filter((slope) => slope !== null);
  const usual = known.length > 0 ? known.reduce((sum, slope) => sum + slope, 0) / known.length : input.slope;
  const options = current.flatMap((each) => {
    const own = input.tries.filter((one) => one.chunk === each.chunk);
    const wanted = each.bytes + missing;
    const shift = Math.max(
      -MOST_REPAIR,
      Math.min(MOST_REPAIR, findCrfFor(own, wanted, measureSlope(own) ?? usual) - each.crf),
    );
    const crf = roundCrf(Math.max(input.leastCrf, Math.min(MOST_CRF + 7, each.crf + shift)));
    if (own.some((one) => Math.abs(crf - one.crf) < 0.02)) return [];
    const stray = Math.abs(crf - meanCrf);
    return [
      {
        chunk: each.chunk,
        crf,
        bytes: each.bytes,
        isEnough: Math.abs(shift) < MOST_REPAIR && stray <= BEARABLE_STRAY,
        stray,
      },
    ];
  });
  const enough = options
    .filter((option) => option.isEnough)
    .sort((left, right) => left.bytes - right.bytes)[0];
  const heaviest = options.sort((left, right) => right.bytes - left.bytes)[0];
  const { chunk, crf } = enough ?? heaviest ?? { chunk: -1, crf: 0 };
  return chunk < 0 ? null : { chunk, crf };
}

/** How far a mended chunk may lie from the common quality. */
const BEARABLE_STRAY = 2;
const MOST_REPAIR = 3;

/**
 * The rate factor that should give so many bytes: between the nearest tries of the chunk on both sides, else
 * on from the nearest one.
 */
function findCrfFor(tries: readonly ChunkResult[], bytes: number, slope: number): number {
  if (bytes <= 0) return MOST_CRF + 7;
  const under = tries
    .filter((each) => each.bytes <= bytes)
    .sort((left, right) => right.bytes - left.bytes)[0];
  const over = tries.filter((each) => each.bytes > bytes).sort((left, right) => left.bytes - right.bytes)[0];
  if (under && over && over.crf < under.crf)
    return (
      under.crf +
      ((over.crf - under.crf) * Math.log(bytes / under.bytes)) / Math.log(over.bytes / under.bytes)
    );
  const near = under ?? over;
  return near ? near.crf + slope * Math.log2(near.bytes / bytes) : MOST_CRF;
}

/** Rate factors that halve the bytes, from two tries of the same chunk; null where they say nothing. */
function measureSlope(tries: readonly ChunkResult[]): number | null {
  const [first, last] = [tries.at(-2), tries.at(-1)];
  if (!first || !last || first.bytes === last.bytes || Math.abs(first.crf - last.crf) < 0.1) return null;
  const slope = (last.crf - first.crf) / Math.log2(first.bytes / last.bytes);
  return slope > LEAST_SLOPE && slope < MOST_SLOPE ? slope : null;
}

function roundCrf(crf: number): number {
  return Math.round(crf * 50) / 50;
}
