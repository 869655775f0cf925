/**
 * A logistic model over yes-or-no features: `bias`, and what each feature adds. Features it does not know
 * add nothing.
 */
export interface LinearModel {
  readonly bias: number;
  readonly weights: Readonly<Record<string, number>>;
}

/** Chance from 0 to 1 that what shows these features is so. */
export function judgeFeatures(model: LinearModel, features: readonly string[]): number {
  const sum = features.reduce((total, feature) => total + (model.weights[feature] ?? 0), model.bias);
  return 1 / (1 + Math.exp(-sum));
}

export interface LabelledExample {
  readonly features: readonly string[];
  readonly isSo: boolean;
  /** How much the example counts. */
  readonly worth?: number;
}

/**
 * Fits a model by gradient descent with a fixed number of rounds (Adagrad: Duchi, Hazan & Singer 2011) and a
 * square penalty on weights: the same examples in the same order always give the same model.
 */
export function fitLinearModel(
  examples: readonly LabelledExample[],
  { penalty = 0.02, rounds = 300, rate = 0.3, leastSeen = 2 } = {},
): LinearModel {
  const counts = new Map<string, number>();
  for (const { features } of examples)
    for (const each of features) counts.set(each, (counts.get(each) ?? 0) + 1);
  const names = [...counts.keys()].filter((name) => (counts.get(name) ?? 0) >= leastSeen).sort();
  const placeOf = new Map(names.map((name, at) => [name, at]));
  const rows = examples.map(({ features, isSo, worth = 1 }) => ({
    at: features.flatMap((each) => placeOf.get(each) ?? []),
    isSo,
    worth,
  }));
  const weights = new Float64Array(names.length);
  const squares = new Float64Array(names.length).fill(1e-6);
  let [bias, biasSquares] = [0, 1e-6];
  for (let round = 0; round < rounds; round += 1) {
    const gradient = new Float64Array(names.length);
    let biasGradient = 0;
    for (const { at, isSo, worth } of rows) {
      let sum = bias;
      for (const place of at) sum += weights[place] ?? 0;
      const error = (1 / (1 + Math.exp(-sum)) - (isSo ? 1 : 0)) * worth;
      for (const place of at) gradient[place] = (gradient[place] ?? 0) + error;
      biasGradient += error;
    }
    for (let place = 0; place < names.length; place += 1) {
      const step = (gradient[place] ?? 0) / rows.length + (penalty * (weights[place] ?? 0)) / 10;
      squares[place] = (squares[place] ?? 0) + step * step;
      weights[place] = (weights[place] ?? 0) - (rate * step) / Math.sqrt(squares[place] ?? 1);
    }
    const step = biasGradient / rows.length;
    biasSquares += step * step;
    bias -= (rate * step) / Math.sqrt(biasSquares);
  }
  const round = (value: number) => Math.round(value * 1000) / 1000;
  return {
    bias: round(bias),
    weights: Object.fromEntries(
      names.flatMap((name, at) =>
        Math.abs(weights[at] ?? 0) < 0.01 ? [] : [[name, round(weights[at] ?? 0)]],
      ),
    ),
  };
}
