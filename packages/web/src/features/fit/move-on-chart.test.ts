import type { FitChoice } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { moveOnChart, type ChartPlace } from './move-on-chart.ts';

const choice = {} as FitChoice;
/** Two curves of ten points, the second with a limit after its sixth; then points that nobody chooses. */
const choices = [
  Array.from({ length: 10 }, () => choice),
  Array.from({ length: 10 }, (_, index) => (index < 6 ? choice : null)),
  [],
];
const at = (curve: number, point: number): ChartPlace => ({ curve, point });

describe('the points of the chart by keys', () => {
  it.each([
    ['ArrowRight', at(0, 0), at(0, 4)],
    ['ArrowRight', at(0, 8), at(0, 9)],
    ['ArrowRight', at(1, 4), at(1, 5)],
    ['ArrowLeft', at(0, 2), at(0, 0)],
    ['Home', at(0, 7), at(0, 0)],
    ['End', at(1, 0), at(1, 5)],
    ['ArrowDown', at(0, 9), at(1, 5)],
    ['ArrowDown', at(1, 3), at(0, 3)],
    ['ArrowUp', at(0, 3), at(1, 3)],
    ['a', at(0, 3), null],
  ])('%s from %j', (key, from, to) => expect(moveOnChart(choices, from, key)).toEqual(to));

  it('begin at the largest that can be chosen', () =>
    expect(moveOnChart(choices, null, 'ArrowRight')).toEqual(at(0, 9)));
  it('are nowhere where nothing can be chosen', () =>
    expect(moveOnChart([[null], []], null, 'ArrowRight')).toBeNull());
});
