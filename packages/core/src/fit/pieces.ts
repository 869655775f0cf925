/** A run of output frames: first inclusive, last exclusive. */
export interface FrameSpan {
  readonly first: number;
  readonly last: number;
}

/** Longest closed group of pictures, in seconds. */
export const GROUP_S = 2;

/** Frames of the longest closed group at this rate. */
export function countGroupFrames(frameRate: number): number {
  return Math.max(1, Math.floor(frameRate * GROUP_S));
}

/** Up to these lengths of a take, in seconds, its pieces are one group and two groups long. */
const [SHORT_S, MIDDLING_S] = [30, 90];
/** Points a second from which coding takes so long that what each piece costs beside it is nothing. */
const HEAVY_POINTS = 5e7;

/**
 * How many whole groups a piece has: few where there are few, so that the size can be steered to; more where
 * what a piece costs to begin would be felt. It goes by the whole take, not by what is kept of it, so that
 * another trim has the same pieces.
 */
export function chooseGroupsOfPiece(takeSeconds: number, pointsPerSecond: number): number {
  if (takeSeconds <= SHORT_S) return 1;
  return takeSeconds <= MIDDLING_S || pointsPerSecond >= HEAVY_POINTS ? 2 : 4;
}

export interface PieceInput {
  /** Stretches of the output, each from one place of the recording. */
  readonly spans: readonly { readonly firstOutput: number; readonly lastOutput: number }[];
  /** Frame of the recording that each frame of the output shows. */
  readonly sourceFrames: ArrayLike<number>;
  /** Frames of the recording to one of the output. */
  readonly sourcePerOutput: number;
  /** Output frames of a whole piece. */
  readonly pieceFrames: number;
  /** Least frames that are a piece of their own. */
  readonly leastFrames: number;
}

/**
 * Divides the frames of an output into pieces that are coded each by itself. Pieces begin where the
 * recording's own count of frames says, not the output's: where an end is trimmed, all pieces but that at the
 * moved end show what they showed before. Every frame lies in exactly one piece.
 */
export function planPieces(input: PieceInput): FrameSpan[] {
  const { sourceFrames, sourcePerOutput, pieceFrames, leastFrames } = input;
  const numberOf = (frame: number) =>
    Math.floor((sourceFrames[frame] ?? 0) / (sourcePerOutput * pieceFrames) + 1e-9);
  const pieces: FrameSpan[] = [];
  for (const { firstOutput, lastOutput } of input.spans) {
    const own: FrameSpan[] = [];
    for (let first = firstOutput; first < lastOutput;) {
      let last = first + 1;
      while (last < lastOutput && numberOf(last) === numberOf(first) && last - first < pieceFrames) last += 1;
      own.push({ first, last });
      first = last;
    }
    pieces.push(...joinShortEnds(own, leastFrames));
  }
  return pieces;
}

/** What is left over at either end goes to the piece beside it. */
function joinShortEnds(pieces: readonly FrameSpan[], leastFrames: number): readonly FrameSpan[] {
  const [head, second] = pieces;
  if (head && second && head.last - head.first < leastFrames)
    return joinShortEnds([{ first: head.first, last: second.last }, ...pieces.slice(2)], leastFrames);
  const [before, tail] = pieces.slice(-2);
  if (pieces.length > 1 && before && tail && tail.last - tail.first < leastFrames)
    return [...pieces.slice(0, -2), { first: before.first, last: tail.last }];
  return pieces;
}

/** This share of the pieces, the lightest, comes last: what is not known of them is little. */
const LAST_SHARE = 0.12;

/**
 * The order in which pieces are coded: from everywhere in turn, so that the first few tell of the whole (by
 * the mirrored digits of van der Corput's sequence, 1935), the lightest ones last.
 */
export function orderPieces(weights: readonly number[]): number[] {
  const count = weights.length;
  const lastCount = count < 4 ? 0 : Math.ceil(count * LAST_SHARE);
  const byWeight = weights.map((_, piece) => piece).sort((a, b) => (weights[a] ?? 0) - (weights[b] ?? 0));
  const light = byWeight.slice(0, lastCount).reverse();
  const bits = Math.ceil(Math.log2(Math.max(2, count)));
  const spread = Array.from({ length: 2 ** bits }, (_, index) => mirrorBits(index, bits)).filter(
    (piece) => piece < count && !light.includes(piece),
  );
  return [...spread, ...light];
}

function mirrorBits(value: number, bits: number): number {
  let mirrored = 0;
  for (let bit = 0; bit < bits; bit += 1) if (value & (1 << bit)) mirrored |= 1 << (bits - 1 - bit);
  return mirrored;
}
