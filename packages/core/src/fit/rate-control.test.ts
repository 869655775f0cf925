import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { planChunks } from './chunks.ts';
import {
  isOffCourse,
  learnModel,
  LEAST_CRF,
  measureLevel,
  predictChunkBytes,
  solveCrf,
  suggestChunkCrf,
  suggestRepair,
  type ChunkResult,
} from './rate-control.ts';

describe('planChunks', () => {
  it('puts every frame into one chunk, each beginning on a whole group, shorter towards the end', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40_000 }),
        fc.constantFrom(12.5, 24, 25, 29.97, 30, 50, 60),
        (frameCount, rate) => {
          const spans = planChunks(frameCount, rate);
          const group = Math.floor(rate * 2);
          expect(spans[0]?.first).toBe(0);
          expect(spans.at(-1)?.last).toBe(frameCount);
          for (const [index, span] of spans.entries()) {
            expect(span.last).toBeGreaterThan(span.first);
            expect(span.first % group).toBe(0);
            if (index > 0) expect(span.first).toBe(spans[index - 1]?.last);
          }
        },
      ),
    );
  });

  it('ends on chunks of two seconds where there is room: 60 s at 25 a second', () => {
    const seconds = planChunks(1500, 25).map((span) => (span.last - span.first) / 25);
    expect(seconds[0]).toBe(14);
    expect(seconds.slice(-3)).toEqual([2, 2, 2]);
  });
});

describe('the model', () => {
  it('halves the bytes every `slope` rate factors', () => {
    expect(
      predictChunkBytes({ level: 20, slope: 6 }, 1, 30) / predictChunkBytes({ level: 20, slope: 6 }, 1, 36),
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
          const bytes = predictChunkBytes({ level, slope }, weight, crf);
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
 * A coder whose bytes follow its own law, not the one that the steering believes in, with noise from chunk to
 * chunk.
 */
function simulate(options: {
  weights: readonly number[];
  believed: readonly number[];
  level: number;
  slope: number;
  believedLevel: number;
  believedSlope: number;
  noise: (chunk: number) => number;
  targetBytes: number;
}): { total: number; codings: number } {
  const code = (chunk: number, crf: number) =>
    Math.round(
      (options.weights[chunk] ?? 1) * 2 ** (options.level - crf / options.slope) * options.noise(chunk),
    );
  const prior = { level: options.believedLevel, slope: options.believedSlope };
  const tries: ChunkResult[] = [];
  let crf = 0;
  for (let chunk = 0; chunk < options.weights.length; chunk += 1) {
    const input = {
      prior,
      weights: options.believed,
      results: tries,
      targetBytes: options.targetBytes,
      leastCrf: LEAST_CRF,
    };
    if (chunk === 0 || isOffCourse(input, crf)) crf = suggestChunkCrf(input);
    tries.push({ chunk, crf, bytes: code(chunk, crf) });
  }
  let codings = options.weights.length;
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
    tries.push({ ...repair, bytes: code(repair.chunk, repair.crf) });
  }
  return {
    total: [...new Map(tries.map((each) => [each.chunk, each.bytes])).values()].reduce(
      (sum, bytes) => sum + bytes,
      0,
    ),
    codings,
  };
}

describe('what is learned', () => {
  const weights = [1, 1, 1, 1];
  const prior = { level: 20, slope: 6 };
  /** A first chunk that took twice what was expected: its own level is 21. */
  const heavy: ChunkResult[] = [{ chunk: 0, crf: 24, bytes: 2 ** (21 - 24 / 6) }];

  it('from one chunk is little where much was sampled, and much where little was', () => {
    // Nothing known of the samples: they weigh 0.6 chunks, so the level is (20 · 0.6 + 21) / 1.6.
    expect(learnModel(prior, weights, heavy).level).toBeCloseTo(33 / 1.6, 9);
    // Half of the take sampled weighs 0.8 · 2 chunks: (20 · 1.6 + 21) / 2.6.
    expect(learnModel(prior, weights, heavy, 0.5).level).toBeCloseTo(53 / 2.6, 9);
  });

  it('is not much from samples of a hundredth of a long take', () =>
    expect(learnModel(prior, weights, heavy, 0.01).level).toBeCloseTo(33 / 1.6, 9));

  it('does not begin again for one chunk that differs, where samples were taken everywhere', () => {
    const steering = {
      prior,
      weights,
      results: [{ chunk: 0, crf: 24, bytes: 2 ** (20 - 24 / 6) * 1.09 }],
      targetBytes: 4 * 2 ** (20 - 24 / 6),
      leastCrf: LEAST_CRF,
    };
    expect(isOffCourse(steering, 24)).toBe(true);
    expect(isOffCourse({ ...steering, sampledShare: 0.5 }, 24)).toBe(false);
  });
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
          const noise = (chunk: number) => 1 + 0.12 * Math.sin(seed + chunk * 2.3);
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

  it('never asks for finer than is of use', () => {
    const crf = suggestChunkCrf({
      prior: { level: 18, slope: 6 },
      weights: [1, 1],
      results: [],
      targetBytes: 1e12,
      leastCrf: 17,
    });
    expect(crf).toBe(17);
  });

  it('leaves a result alone that lies in the range, and one that cannot be made any better', () => {
    const tries = [{ chunk: 0, crf: 14, bytes: 500 }];
    expect(
      suggestRepair({ tries, slope: 6, targetBytes: 500, leastBytes: 480, mostBytes: 520, leastCrf: 14 }),
    ).toBeNull();
    expect(
      suggestRepair({ tries, slope: 6, targetBytes: 900, leastBytes: 880, mostBytes: 1000, leastCrf: 14 }),
    ).toBeNull();
  });

  it('mends the lightest chunk that a small change is enough for', () => {
    const tries = [
      { chunk: 0, crf: 26, bytes: 8000 },
      { chunk: 1, crf: 26, bytes: 2000 },
      { chunk: 2, crf: 26, bytes: 400 },
    ];
    const repair = suggestRepair({
      tries,
      slope: 6,
      targetBytes: 10_000,
      leastBytes: 9800,
      mostBytes: 10_100,
      leastCrf: 14,
    });
    expect(repair?.chunk).toBe(1);
    // 2000 − 400 = 1600 bytes: 6 · log2(2000 / 1600) = 1.93 rate factors coarser.
    expect(repair?.crf).toBeCloseTo(27.94, 1);
  });
});
