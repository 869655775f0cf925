/**
 * Runs two functions in turns for the given time and gives how much longer the second takes, by medians;
 * machines are noisy.
 */
export function measureRatio(input: {
  baseline: string;
  runBaseline: () => unknown;
  run: () => unknown;
  seconds: number;
}): { baseline: string; milliseconds: number; ratio: number } {
  const [base, own]: [number[], number[]] = [[], []];
  const time = (work: () => unknown) => {
    const startedAt = performance.now();
    work();
    return performance.now() - startedAt;
  };
  for (let round = 0; round < 5; round += 1) {
    input.runBaseline();
    input.run();
  }
  for (const end = performance.now() + input.seconds * 1000; performance.now() < end;) {
    base.push(time(input.runBaseline));
    own.push(time(input.run));
  }
  const median = (values: number[]) =>
    [...values].sort((left, right) => left - right)[Math.floor(values.length / 2)] ?? 0;
  return {
    baseline: input.baseline,
    milliseconds: Number(median(own).toFixed(2)),
    ratio: Number((median(own) / Math.max(1e-6, median(base))).toFixed(1)),
  };
}
