import { describe, expect, it } from 'vitest';
import { FlatTopCounter } from './flat-tops.ts';

function count(samples: readonly number[], side = 0): number {
  const counter = new FlatTopCounter(2);
  for (const sample of samples) counter.add(side, sample);
  return counter.take();
}

describe('flat tops', () => {
  it('are three samples or more in a row at full scale, on one side of none', () => {
    expect(count([0.2, 1, 1, 1, 0.2])).toBe(1);
    expect(count([0.2, -1, -1, -1, -1, -1, 0.2])).toBe(1);
    expect(count([1, 1, 0.9, 1, 1])).toBe(0);
    expect(count([1, 1, -1, -1, 1, 1])).toBe(0);
    expect(count([1, 1, 1, -1, -1, -1])).toBe(2);
  });

  it('of 16 bits reach the last step below full scale, and no lower one', () => {
    const [last, lower] = [32_766 / 32_768, 32_765 / 32_768];
    expect(count([last, last, last])).toBe(1);
    expect(count([lower, lower, lower])).toBe(0);
  });

  it('are counted for each side of its own, and since it was last asked', () => {
    const counter = new FlatTopCounter(2);
    for (const sample of [1, 1, 1]) {
      counter.add(0, sample);
      counter.add(1, 0);
    }
    expect(counter.take()).toBe(1);
    expect(counter.take()).toBe(0);
    // A run that goes on is the same flat top.
    counter.add(0, 1);
    expect(counter.take()).toBe(0);
  });
});
