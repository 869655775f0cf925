import { solveCrf } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { learnFromTries } from './weigh-take.ts';

// A second of a dark stage with grain, as x264 coded it at 540 lines: the grain goes between 17 and 27.
const [grainy, gone, coarse] = [
  { crf: 17, bytes: 398_575 },
  { crf: 27, bytes: 46_450 },
  { crf: 33, bytes: 33_740 },
];

describe('learnFromTries', () => {
  it('asks for a rate factor between the tries that the wanted bytes lie between', () => {
    // All 16 seconds came to their bytes at 22.5.
    const model = learnFromTries([gone, coarse, grainy], 95_423, 1);
    const crf = solveCrf(model, 1, 95_423);
    expect(crf).toBeGreaterThan(21);
    expect(crf).toBeLessThan(25);
  });

  it('goes on from the two nearest where all lie on one side', () => {
    const halved = [
      { crf: 30, bytes: 40_000 },
      { crf: 24, bytes: 80_000 },
      { crf: 36, bytes: 20_000 },
    ];
    const model = learnFromTries(halved, 160_000, 1);
    expect(model.slope).toBeCloseTo(6, 6);
    expect(solveCrf(model, 1, 160_000)).toBeCloseTo(18, 6);
  });

  it('takes the usual slope where both tries are alike', () => {
    const model = learnFromTries(
      [
        { crf: 24, bytes: 50_000 },
        { crf: 30, bytes: 50_100 },
      ],
      100_000,
      1,
    );
    expect(model.slope).toBe(6);
  });
});
