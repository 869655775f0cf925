import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { orderPieces } from './pieces.ts';
import {
  chooseKnownPieces,
  learnModel,
  LEAST_CRF,
  measureLevel,
  predictPieceBytes,
  solveCrf,
  suggestNextPiece,
  suggestRepair,
  type PieceResult,
} from './rate-control.ts';

describe('the model', () => {
  it('halves the bytes every `slope` rate factors', () => {
    expect(
      predictPieceBytes({ level: 20, slope: 6 }, 1, 30) / predictPieceBytes({ level: 20, slope: 6 }, 1, 36),
    ).toBeCloseTo(2, 9);
  });

  it('solving and predicting are inverse', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 15, max: 25, noNaN: true }),
        fc.double({ min: 3, max: 10, noNaN: true }),
        fc.double({ min: 0.1, max: 50, noNaN: true }),
        fc.double({ min: 14, max: 44, noNaN: true }),
        (level, slope, weight, crf) => {
          const bytes = predictPieceBytes({ level, slope }, weight, crf);
          expect(solveCrf({ level, slope }, weight, bytes)).toBeCloseTo(crf, 6);
          expect(measureLevel({ weight, crf, bytes: Math.max(1, bytes) }, slope)).toBeGreaterThanOrEqual(
            level - 1e-6,
          );
        },
      ),
    );
  });
});

/**
 * A coder whose bytes follow its own law, not the one that the steering believes in, with noise from piece to
 * piece.
 */
function simulate(options: {
  weights: readonly number[];
  believed: readonly number[];
  level: number;
  slope: number;
  believedLevel: number;
  believedSlope: number;
  noise: (piece: number) => number;
  targetBytes: number;
}): { total: number; codings: number } {
  const code = (piece: number, crf: number) =>
    Math.round(
      (options.weights[piece] ?? 1) * 2 ** (options.level - crf / options.slope) * options.noise(piece),
    );
  const prior = { level: options.believedLevel, slope: options.believedSlope };
  const tries: PieceResult[] = [];
  const steering = {
    prior,
    weights: options.believed,
    order: orderPieces(options.believed),
    targetBytes: options.targetBytes,
    leastCrf: LEAST_CRF,
  };
  for (;;) {
    // The last two are being coded still.
    const steps = tries.map((each, at) => (at < tries.length - 2 ? each : { ...each, bytes: null }));
    const next = suggestNextPiece({ ...steering, steps });
    if (!next) break;
    tries.push({ ...next, bytes: code(next.piece, next.crf) });
  }
  let codings = tries.length;
  for (let round = 0; round < 8; round += 1) {
    const repair = suggestRepair({
      tries,
      slope: prior.slope,
      targetBytes: options.targetBytes,
      leastBytes: options.targetBytes * 0.985,
      mostBytes: options.targetBytes * 1.015,
      leastCrf: LEAST_CRF,
    });
    if (!repair) break;
    codings += 1;
    tries.push({ ...repair, bytes: code(repair.piece, repair.crf) });
  }
  return {
    total: [...new Map(tries.map((each) => [each.piece, each.bytes])).values()].reduce(
      (sum, bytes) => sum + bytes,
      0,
    ),
    codings,
  };
}

describe('what is learned', () => {
  const weights = [1, 1, 1, 1];
  const prior = { level: 20, slope: 6 };
  /** A first piece that took twice what was expected: its own level is 21. */
  const heavy: PieceResult[] = [{ piece: 0, crf: 24, bytes: 2 ** (21 - 24 / 6) }];

  it('from one piece is little where much was sampled, and much where little was', () => {
    // Nothing known of the samples: they weigh 0.6 pieces, so the level is (20 · 0.6 + 21) / 1.6.
    expect(learnModel(prior, weights, heavy).level).toBeCloseTo(33 / 1.6, 9);
    // Half of the take sampled weighs 0.8 · 2 pieces: (20 · 1.6 + 21) / 2.6.
    expect(learnModel(prior, weights, heavy, 0.5).level).toBeCloseTo(53 / 2.6, 9);
  });

  it('is not much from samples of a hundredth of a long take', () =>
    expect(learnModel(prior, weights, heavy, 0.01).level).toBeCloseTo(33 / 1.6, 9));
});

describe('steering', () => {
  it('lands within 1.5 % of the target for coders that behave otherwise than believed', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.3, max: 3, noNaN: true }), { minLength: 6, maxLength: 20 }),
        fc.double({ min: 4, max: 8, noNaN: true }),
        fc.double({ min: -0.5, max: 0.5, noNaN: true }),
        fc.integer({ min: 0, max: 1000 }),
        (weights, slope, error, seed) => {
          const noise = (piece: number) => 1 + 0.12 * Math.sin(seed + piece * 2.3);
          const total = weights.reduce((sum, weight) => sum + weight, 0);
          const level = 22;
          const targetBytes = Math.round(total * 2 ** (level - 27 / slope));
          const result = simulate({
            weights,
            believed: weights,
            level,
            slope,
            believedLevel: 22 + error + 27 / 6 - 27 / slope,
            believedSlope: 6,
            noise,
            targetBytes,
          });
          expect(Math.abs(result.total / targetBytes - 1)).toBeLessThanOrEqual(0.0151);
        },
      ),
      { numRuns: 200 },
    );
  });

  const even = { weights: [1, 1, 1, 1], order: [0, 2, 1, 3], leastCrf: LEAST_CRF };
  /** Four pieces that take 2^(20 − crf / 6) bytes each: at 24 65 536. */
  const prior = { level: 20, slope: 6 };
  const targetBytes = 4 * 65_536;

  it('never asks for finer than is of use', () => {
    const next = suggestNextPiece({ ...even, prior, steps: [], targetBytes: 1e12, leastCrf: 17 });
    expect(next).toEqual({ piece: 0, crf: 17 });
  });

  it('begins all alike while nothing is known, in the order given', () => {
    const steps = [{ piece: 0, crf: 24, bytes: null }];
    expect(suggestNextPiece({ ...even, prior, steps, targetBytes })).toEqual({ piece: 2, crf: 24 });
  });

  it('takes from the others what one took too much', () => {
    // It took 80 000 in place of 65 536, a level of 20.2877. The samples, half of the whole, weigh 1.6
    // pieces: the level of all is 20 + 0.2877 / 2.6 = 20.1107, of the piece beside it 20.1992, of those
    // further off 20.1697 and 20.1461. At rate factor 0 they take 3.3796 · 2^20, and 262 144 − 80 000 =
    // 182 144 are left.
    const steps = [{ piece: 0, crf: 24, bytes: 80_000 }];
    const next = suggestNextPiece({ ...even, prior, sampledShare: 0.5, steps, targetBytes });
    expect(next?.piece).toBe(2);
    expect(next?.crf).toBeCloseTo(6 * (20 + Math.log2(3.3796) - Math.log2(182_144)), 1);
  });

  it('codes once more, at the end, what was begun far from where the whole came to lie', () => {
    const at = (piece: number, crf: number) => ({ piece, crf, bytes: Math.round(2 ** (20 - crf / 6)) });
    const steps = [at(0, 28), at(2, 24), at(1, 24), at(3, 24)];
    expect(suggestNextPiece({ ...even, prior, steps, targetBytes })).toEqual({ piece: 0, crf: 24 });
    expect(suggestNextPiece({ ...even, prior, steps: [...steps, at(0, 24)], targetBytes })).toBeNull();
    // A second time would not be better.
    expect(suggestNextPiece({ ...even, prior, steps: [...steps, at(0, 28)], targetBytes })).toBeNull();
  });

  it('takes what was coded before for the same target as it is, and of another only what is as good', () => {
    const at = (piece: number, crf: number) => ({ piece, crf, bytes: Math.round(2 ** (20 - crf / 6)) });
    const steering = { ...even, prior, targetBytes };
    const known = [at(0, 24), at(1, 24.4), at(2, 23.6), at(3, 24)];
    expect(chooseKnownPieces(steering, known)).toEqual(known);
    // One is missing: the rest can make up for it.
    expect(chooseKnownPieces(steering, known.slice(1))).toEqual(known.slice(1));
    // Three tenths fewer bytes are 3.09 rate factors: only what lies near 27.09 is as good.
    const smaller = { ...steering, targetBytes: targetBytes * 0.7 };
    expect(chooseKnownPieces(smaller, [...known.slice(0, 3), at(3, 27)])).toEqual([at(3, 27)]);
    // A file that was mended by one piece far from the others came out well all the same.
    const mended = [at(0, 24), at(1, 24), at(2, 26.4), at(3, 22.2)];
    expect(chooseKnownPieces(steering, mended)).toEqual(mended);
  });

  it('leaves a result alone that lies in the range, and one that cannot be made any better', () => {
    const tries = [{ piece: 0, crf: 14, bytes: 500 }];
    expect(
      suggestRepair({ tries, slope: 6, targetBytes: 500, leastBytes: 480, mostBytes: 520, leastCrf: 14 }),
    ).toBeNull();
    expect(
      suggestRepair({ tries, slope: 6, targetBytes: 900, leastBytes: 880, mostBytes: 1000, leastCrf: 14 }),
    ).toBeNull();
  });

  it('mends the lightest piece that a small change is enough for', () => {
    const tries = [
      { piece: 0, crf: 26, bytes: 8000 },
      { piece: 1, crf: 26, bytes: 2000 },
      { piece: 2, crf: 26, bytes: 400 },
    ];
    const repair = suggestRepair({
      tries,
      slope: 6,
      targetBytes: 10_000,
      leastBytes: 9800,
      mostBytes: 10_100,
      leastCrf: 14,
    });
    expect(repair?.piece).toBe(1);
    // 2000 − 400 = 1600 bytes: 6 · log2(2000 / 1600) = 1.93 rate factors coarser.
    expect(repair?.crf).toBeCloseTo(27.94, 1);
  });
});
