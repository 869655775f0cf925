import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chooseGroupsOfPiece, orderPieces, planPieces } from './pieces.ts';

/** A take of one frame each, kept from one frame to another. */
function plan(from: number, to: number, pieceFrames = 60, sourcePerOutput = 1) {
  const count = Math.floor((to - from) / sourcePerOutput);
  return planPieces({
    spans: [{ firstOutput: 0, lastOutput: count }],
    sourceFrames: Int32Array.from({ length: count }, (_, frame) => from + frame * sourcePerOutput),
    sourcePerOutput,
    pieceFrames,
    leastFrames: 15,
  });
}
const readShown = (from: number, to: number) =>
  plan(from, to).map(({ first, last }) => `${from + first}-${from + last}`);

describe('planPieces', () => {
  it('puts every frame into one piece, in order, none much longer than wanted', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 500 }),
        fc.integer({ min: 1, max: 3000 }),
        fc.constantFrom(30, 59, 60, 240),
        fc.constantFrom(1, 2, 1.25),
        (from, length, pieceFrames, sourcePerOutput) => {
          const count = Math.floor(length / sourcePerOutput);
          const pieces = plan(from, from + length, pieceFrames, sourcePerOutput);
          // Each end leaves over up to 14 frames; to the only piece of an output both may go.
          const most = pieceFrames + (pieces.length === 1 ? 28 : 14) + (sourcePerOutput === 1.25 ? 2 : 0);
          let next = 0;
          for (const { first, last } of pieces) {
            expect(first).toBe(next);
            expect(last).toBeGreaterThan(first);
            expect(last - first).toBeLessThanOrEqual(most);
            next = last;
          }
          expect(next).toBe(count);
        },
      ),
    );
  });

  it('shows the same in all pieces but those at the ends, however the ends are trimmed', () => {
    expect(readShown(0, 300)).toEqual(['0-60', '60-120', '120-180', '180-240', '240-300']);
    expect(readShown(25, 290)).toEqual(['25-60', '60-120', '120-180', '180-240', '240-290']);
  });

  it('joins what is left over at an end to the piece beside it', () => {
    expect(readShown(50, 250)).toEqual(['50-120', '120-180', '180-250']);
    expect(readShown(50, 62)).toEqual(['50-62']);
    expect(readShown(46, 121)).toEqual(['46-121']);
  });

  it('begins anew with every part of the recording, and counts half the frames by halves', () => {
    const sourceFrames = Int32Array.from([
      ...Array(90).keys(),
      ...Array.from({ length: 90 }, (_, at) => 600 + at),
    ]);
    const spans = [
      { firstOutput: 0, lastOutput: 90 },
      { firstOutput: 90, lastOutput: 180 },
    ];
    const common = { pieceFrames: 60, leastFrames: 15 };
    expect(planPieces({ spans, sourceFrames, sourcePerOutput: 1, ...common })).toEqual([
      { first: 0, last: 60 },
      { first: 60, last: 90 },
      { first: 90, last: 150 },
      { first: 150, last: 180 },
    ]);
    expect(plan(0, 240, 60, 2)).toEqual([
      { first: 0, last: 60 },
      { first: 60, last: 120 },
    ]);
  });

  it('goes by the length of the take and by what a piece costs', () =>
    expect([
      chooseGroupsOfPiece(20, 6e7),
      chooseGroupsOfPiece(60, 2e7),
      chooseGroupsOfPiece(600, 6e7),
      chooseGroupsOfPiece(600, 2e7),
    ]).toEqual([1, 2, 2, 4]));
});

describe('orderPieces', () => {
  it('names each piece once, from everywhere in turn, the lightest last', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.1, max: 5, noNaN: true }), { minLength: 1, maxLength: 200 }),
        (weights) => {
          const order = orderPieces(weights);
          expect([...order].sort((a, b) => a - b)).toEqual([...weights.keys()]);
          if (weights.length > 4) expect(weights[order.at(-1) ?? 0]).toBe(Math.min(...weights));
        },
      ),
    );
    // 0, 4, 2, 6 … are the mirrored digits of 0, 1, 2, 3; the last piece is the lightest.
    expect(orderPieces([2, 2, 2, 2, 2, 2, 2, 1]).slice(0, 4)).toEqual([0, 4, 2, 6]);
  });
});
