/**
 * Steering of constant-quality coding to a size. A piece of relative weight `w` (the bytes that it takes
 * beside the others at the same quality) coded at rate factor `crf` is expected to take `w · 2^(level − crf /
 * slope)` bytes. The level is learned from pieces that are done; the slope (rate factors that halve the
 * bytes) is about 6 for H.264.
 */
export interface RateModel {
  readonly level: number;
  readonly slope: number;
}

/** One coded piece. */
export interface PieceResult {
  readonly piece: number;
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
/** How far a piece may stray from the quality of the whole, so that it does not pump. */
const MOST_STRAY = 1;
/** How many pieces the first estimate weighs as much as, at the least. */
const PRIOR_PIECES = 0.6;
/**
 * Samples are taken from everywhere, but coded apart: a second of them tells a little less of the whole than
 * one that is coded with it.
 */
const WORTH_OF_SAMPLES = 0.8;

export function predictPieceBytes(model: RateModel, weight: number, crf: number): number {
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
  results: readonly PieceResult[],
  sampledShare = 0,
): RateModel {
  const all = weights.reduce((sum, weight) => sum + weight, 0);
  const mean = all / Math.max(1, weights.length);
  const worth = Math.max(mean * PRIOR_PIECES, all * sampledShare * WORTH_OF_SAMPLES);
  let [total, share] = [prior.level * worth, worth];
  for (const result of results) {
    const weight = weights[result.piece] ?? mean;
    total += measureLevel({ ...result, weight }, prior.slope) * weight;
    share += weight;
  }
  return { level: total / share, slope: prior.slope };
}

/** A piece that is coded, or is being coded: then its bytes are not known yet. */
export interface PieceStep {
  readonly piece: number;
  readonly crf: number;
  readonly bytes: number | null;
  /** It stays as it is, whatever is learned. */
  readonly isSettled?: boolean;
}

export interface SteeringInput {
  readonly prior: RateModel;
  /** Share of the whole that the first estimate was taken from, 0 to 1. */
  readonly sampledShare?: number;
  /** Relative weight of every piece. */
  readonly weights: readonly number[];
  /** All pieces, in the order in which they are to be coded. */
  readonly order: readonly number[];
  /** What was begun so far, in its order. */
  readonly steps: readonly PieceStep[];
  readonly targetBytes: number;
  readonly leastCrf: number;
}

/** What a piece tells of another counts half with each one that lies between. */
const NEIGHBOUR_FADING = 0.5;

/**
 * The level of each piece by what is known of those near it: weights that stand for what a piece takes are
 * off by much the same for neighbours.
 */
function learnLevels(
  common: number,
  slope: number,
  weights: readonly number[],
  results: readonly PieceResult[],
): number[] {
  const known = results.map((result) => ({
    piece: result.piece,
    level: measureLevel({ ...result, weight: weights[result.piece] ?? 1 }, slope),
  }));
  return weights.map((_, piece) => {
    let [sum, share] = [common, 1];
    for (const each of known) {
      const count = NEIGHBOUR_FADING ** Math.max(0, Math.abs(each.piece - piece) - 1);
      sum += each.level * count;
      share += count;
    }
    return sum / share;
  });
}

/** A piece whose quality differs by more than this from what the whole has is coded once more. */
const MOST_APART = 1.2;

/**
 * The piece to code next, and its rate factor: what is left of the target, divided over what is left to code,
 * near the quality that the whole would have if all of it were coded alike. Pieces that were coded before
 * that was known, and lie far from it, are coded once more at the end. null where nothing is left to do.
 */
export function suggestNextPiece(
  input: SteeringInput,
): { readonly piece: number; readonly crf: number } | null {
  const { prior, weights, order, steps, targetBytes, leastCrf } = input;
  const current = [...new Map(steps.map((step) => [step.piece, step])).values()];
  const results = current.flatMap(({ piece, crf, bytes }) => (bytes === null ? [] : [{ piece, crf, bytes }]));
  const model = learnModel(prior, weights, results, input.sampledShare);
  const bound = (crf: number) => Math.min(MOST_CRF, Math.max(leastCrf, crf));
  const common = bound(solveCrf(model, sumOf(weights), targetBytes));
  const weightOf = (piece: number) => weights[piece] ?? 0;
  const isApart = ({ piece, crf, isSettled }: PieceStep) =>
    !isSettled &&
    Math.abs(crf - common) > MOST_APART &&
    steps.filter((step) => step.piece === piece).length < 2;
  const kept = current.filter((step) => !isApart(step));
  const open = order.filter((piece) => !kept.some((step) => step.piece === piece));
  const fresh = open.find((piece) => !current.some((step) => step.piece === piece));
  const next = fresh ?? open[0];
  if (next === undefined) return null;
  const levels = learnLevels(model.level, prior.slope, weights, results);
  const predict = (piece: number, crf: number) =>
    predictPieceBytes({ level: levels[piece] ?? model.level, slope: prior.slope }, weightOf(piece), crf);
  const spent = sumOf(kept.map(({ piece, crf, bytes }) => bytes ?? predict(piece, crf)));
  // At rate factor 0 open pieces would take so much: they are coded alike.
  const wanted = solveCrf(
    { level: 0, slope: prior.slope },
    sumOf(open.map((piece) => predict(piece, 0))),
    targetBytes - spent,
  );
  const tamed = Math.min(common + MOST_STRAY, Math.max(common - MOST_STRAY, wanted));
  return { piece: next, crf: roundCrf(bound(tamed)) };
}

/** What was coded before is taken as it is where all of it misses the target by no more than this. */
const MOST_MISSED = 0.02;
/** What is still to be coded can make up for the others within so many rate factors. */
const MOST_MADE_UP = 2;
/** A piece whose rate factor is no further from the wanted one is as good: 4 % of its bytes. */
export const AS_GOOD_CRF = 0.3;

/**
 * Of pieces that were coded before, those to take as they are, for the same target or one much like it: all
 * that lie near the quality that the whole would have now, where the rest can make up for what they miss.
 */
export function chooseKnownPieces(
  input: Omit<SteeringInput, 'steps' | 'order'>,
  known: readonly PieceResult[],
): PieceResult[] {
  const { prior, weights, targetBytes, leastCrf } = input;
  const model = learnModel(prior, weights, known, input.sampledShare);
  const common = Math.min(MOST_CRF, Math.max(leastCrf, solveCrf(model, sumOf(weights), targetBytes)));
  const isEnough = (some: readonly PieceResult[]) => {
    const rest = sumOf(weights.filter((_, piece) => !some.some((each) => each.piece === piece)));
    const left = targetBytes - sumOf(some.map(({ bytes }) => bytes));
    if (rest <= 0) return Math.abs(left / targetBytes) <= MOST_MISSED;
    return Math.abs(solveCrf(model, rest, left) - common) <= MOST_MADE_UP;
  };
  // All of a file that came out well, whatever it took to mend it.
  if (known.length === weights.length && isEnough(known)) return [...known];
  const near = known.filter(({ crf }) => Math.abs(crf - common) <= MOST_APART);
  if (isEnough(near)) return near;
  return near.filter(({ crf }) => Math.abs(crf - common) <= AS_GOOD_CRF);
}

const sumOf = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0);

/** A result outside these shares of the target calls for coding a piece again. */
export interface RepairInput {
  /** Every coded try of every piece, the last of each being the one in use. */
  readonly tries: readonly PieceResult[];
  readonly slope: number;
  readonly targetBytes: number;
  /** Least and most bytes that are good. */
  readonly leastBytes: number;
  readonly mostBytes: number;
  readonly leastCrf: number;
}

/**
 * The piece to code again, and how, so that the sum comes into the wanted range; null where it lies there
 * already or where nothing more can be done. Of the pieces that a small change is enough for, the lightest;
 * else the heaviest, changed by as much as is bearable. Pieces whose quality strays in the direction of the
 * correction come first.
 */
export function suggestRepair(input: RepairInput): { readonly piece: number; readonly crf: number } | null {
  const current = [...new Map(input.tries.map((each) => [each.piece, each])).values()];
  const total = current.reduce((sum, each) => sum + each.bytes, 0);
  const isOver = total > input.mostBytes;
  if (!isOver && total >= input.leastBytes) return null;
  const missing = input.targetBytes - total;
  const meanCrf = current.reduce((sum, each) => sum + each.crf * each.bytes, 0) / total;
  const known = current
    .map((each) => measureSlope(input.tries.filter((one) => one.piece === each.piece)))
    .filter((slope) => slope !== null);
  const usual = known.length > 0 ? known.reduce((sum, slope) => sum + slope, 0) / known.length : input.slope;
  const options = current.flatMap((each) => {
    const own = input.tries.filter((one) => one.piece === each.piece);
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
        piece: each.piece,
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
  const { piece, crf } = enough ?? heaviest ?? { piece: -1, crf: 0 };
  return piece < 0 ? null : { piece, crf };
}

/** How far a mended piece may lie from the common quality. */
const BEARABLE_STRAY = 2;
const MOST_REPAIR = 3;

/**
 * The rate factor that should give so many bytes: between the nearest tries of the piece on both sides, else
 * on from the nearest one.
 */
function findCrfFor(tries: readonly PieceResult[], bytes: number, slope: number): number {
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

/** Rate factors that halve the bytes, from two tries of the same piece; null where they say nothing. */
function measureSlope(tries: readonly PieceResult[]): number | null {
  const [first, last] = [tries.at(-2), tries.at(-1)];
  if (!first || !last || first.bytes === last.bytes || Math.abs(first.crf - last.crf) < 0.1) return null;
  const slope = (last.crf - first.crf) / Math.log2(first.bytes / last.bytes);
  return slope > LEAST_SLOPE && slope < MOST_SLOPE ? slope : null;
}

function roundCrf(crf: number): number {
  return Math.round(crf * 50) / 50;
}
