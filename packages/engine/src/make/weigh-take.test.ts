import { shareKeyframe, solveCrf } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { learnFromPlaces, learnFromTries, SHARE_OF_REST } from './weigh-take.ts';

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

  it('goes on toward more bytes no flatter than usual: fine noise comes beyond what was tried', () => {
    // A second of a dark stage, where grain is gone at both: 13 rate factors a halving between them.
    const flat = learnFromTries([gone, coarse], 398_575, 1);
    expect(flat.slope).toBe(6);
    // Toward fewer bytes what was measured goes on.
    expect(learnFromTries([gone, coarse], 20_000, 1).slope).toBe(10);
    // Where it is steeper than usual already, that goes on.
    const steep = [
      { crf: 24, bytes: 80_000 },
      { crf: 28, bytes: 40_000 },
    ];
    expect(learnFromTries(steep, 160_000, 1).slope).toBeCloseTo(4, 6);
  });

  it('keeps a flat slope between two tries, whichever of them is nearer', () => {
    const tries = [
      { crf: 24, bytes: 80_000 },
      { crf: 32, bytes: 40_000 },
    ];
    for (const wanted of [45_000, 75_000]) expect(learnFromTries(tries, wanted, 1).slope).toBeCloseTo(8, 6);
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

describe('SHARE_OF_REST', () => {
  // A keyframe, a second in all, and the two seconds from there, as x264 coded them.
  it.each([
    ['zooming, 720 lines, finer', 30, 73_197, 443_339, 879_238],
    ['zooming, 720 lines, coarser', 30, 25_845, 55_313, 96_846],
    ['dark stage, 720 lines, finer', 25, 53_234, 453_229, 914_345],
    ['dark stage, 720 lines, coarser', 25, 9_574, 58_216, 113_766],
    ['drawn, 720 lines', 30, 24_283, 273_441, 543_106],
  ])('tells a group by its first half: %s', (_, rate, keyframe, second, group) => {
    const rest = Array.from({ length: rate - 1 }, () => (second - keyframe) / (rate - 1));
    const half = shareKeyframe([keyframe, ...rest], 1e6, 2e6, SHARE_OF_REST);
    expect(Math.abs(Math.log2((2 * half) / group))).toBeLessThan(0.16);
  });
});

describe('learnFromPlaces', () => {
  /** Bytes at a rate factor where each halving takes `slope` of them: the law that rate factors follow. */
  const law = (bytes: number, slope: number) => (crf: number) => bytes * 2 ** ((23 - crf) / slope);
  /** Places that take so many bytes at rate factor 23, and a list of what was asked of them. */
  function placesOf(bytes: readonly number[], slope = 5) {
    const asked: [crf: number, count: number][] = [];
    const weigh = async (crf: number, count: number) => {
      asked.push([crf, count]);
      return bytes.slice(0, count).map((each) => law(each, slope)(crf));
    };
    return { asked, weigh };
  }

  it('asks the middle alone of a short take, and no more where what is wanted lies between', async () => {
    const { asked, weigh } = placesOf([100_000]);
    const model = await learnFromPlaces({ guess: 24, wanted: 100_000, weights: [1], weigh });
    expect(asked).toEqual([
      [21, 1],
      [27, 1],
    ]);
    expect(model.slope).toBeCloseTo(5, 6);
    expect(solveCrf(model, 1, 100_000)).toBeCloseTo(23, 6);
  });

  it('goes on where the first guess lay far off', async () => {
    const { asked, weigh } = placesOf([100_000]);
    const model = await learnFromPlaces({ guess: 38, wanted: 100_000, weights: [1], weigh });
    expect(asked.length).toBeGreaterThan(2);
    expect(solveCrf(model, 1, 100_000)).toBeCloseTo(23, 6);
  });

  it('goes by all places of a longer take: a calm middle does not tell the rest', async () => {
    // The middle takes half of what its weight says beside the others.
    const { asked, weigh } = placesOf([50_000, 100_000, 210_000]);
    const weights = [1, 1, 2];
    const model = await learnFromPlaces({ guess: 24, wanted: 90_000, weights, weigh });
    // 360 kB of four weights at rate factor 23: that is what is wanted.
    expect(solveCrf(model, 1, 90_000)).toBeCloseTo(23, 6);
    expect(asked.filter(([, count]) => count === 3).length).toBeGreaterThan(0);
  });

  it('comes to an end where no rate factor gives what is wanted', async () => {
    const { asked, weigh } = placesOf([10, 10, 10]);
    const model = await learnFromPlaces({ guess: 24, wanted: 1e9, weights: [1, 1, 1], weigh });
    expect(asked.length).toBeLessThanOrEqual(5);
    expect(Number.isFinite(model.level)).toBe(true);
  });

  it('passes on what coding throws', async () => {
    const weigh = () => Promise.reject(new Error('no disk'));
    await expect(learnFromPlaces({ guess: 24, wanted: 1, weights: [1], weigh })).rejects.toThrow('no disk');
  });
});
