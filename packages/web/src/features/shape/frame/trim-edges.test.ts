import { Crop } from '@apodix/core';
import { expect, it } from 'vitest';
import { MOST_TRIM, readTrim, trimEdges } from './trim-edges.ts';

it('what is trimmed is a part that the recipe takes, and is told again', () => {
  for (const share of [0.001, 0.02, MOST_TRIM]) {
    expect(Crop.safeParse(trimEdges(share)).success).toBe(true);
    expect(readTrim(trimEdges(share))).toBeCloseTo(share, 9);
  }
  expect(trimEdges(0)).toBeNull();
  expect(readTrim(null)).toBe(0);
});

it('a part that was chosen by hand is no trimmed edge', () => {
  expect(readTrim({ x: 0.02, y: 0.02, width: 0.9, height: 0.96 })).toBeNull();
  expect(readTrim({ x: 0.3, y: 0.3, width: 0.4, height: 0.4 })).toBeNull();
});
