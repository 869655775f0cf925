import { describe, expect, it } from 'vitest';
import { fitLinearModel, judgeFeatures, type LabelledExample, type LinearModel } from './linear-model.ts';
import { readerModels } from './models.ts';

const examples: LabelledExample[] = Array.from({ length: 40 }, (_, at) => ({
  features: [at % 2 ? 'warm' : 'cold', `day:${at % 7}`],
  isSo: at % 2 === 1,
}));

describe('fitLinearModel', () => {
  it('learns what decides, and nothing from what does not', () => {
    const model = fitLinearModel(examples);
    expect(judgeFeatures(model, ['warm', 'day:3'])).toBeGreaterThan(0.9);
    expect(judgeFeatures(model, ['cold', 'day:3'])).toBeLessThan(0.1);
    expect(Math.abs(model.weights['day:3'] ?? 0)).toBeLessThan(Math.abs(model.weights.warm ?? 0) / 4);
  });

  it('gives the same table for the same examples, and leaves out what is seen once', () => {
    expect(fitLinearModel(examples)).toEqual(fitLinearModel(examples));
    const model = fitLinearModel([...examples, { features: ['once'], isSo: true }]);
    expect(model.weights.once).toBeUndefined();
  });

  it('an example of more worth counts more', () => {
    const mixed = (worth: number): LabelledExample[] => [
      { features: ['x'], isSo: true, worth },
      { features: ['x'], isSo: false },
      { features: ['x'], isSo: false },
    ];
    expect(judgeFeatures(fitLinearModel(mixed(9)), ['x'])).toBeGreaterThan(0.5);
    expect(judgeFeatures(fitLinearModel(mixed(1)), ['x'])).toBeLessThan(0.5);
  });

  it('words that no table knows add nothing', () =>
    expect(judgeFeatures({ bias: 0, weights: {} }, ['unheard of'])).toBe(0.5));
});

describe('the reader’s tables', () => {
  it.each(Object.entries(readerModels))(
    '%s holds weights that a person can read',
    (_name, { bias, weights }: LinearModel) => {
      expect(Number.isFinite(bias)).toBe(true);
      expect(Object.keys(weights).length).toBeGreaterThan(20);
      for (const weight of Object.values(weights)) expect(Math.abs(weight)).toBeLessThan(8);
    },
  );
});
