import { describe, expect, it } from 'vitest';
import { describePlace, estimateStarts, orderFairly } from './fair-order.ts';

const list = (text: string) => text.split(' ').map((name) => ({ personId: name.slice(0, 1), name }));
const order = (waiting: string, busy = '') =>
  orderFairly(list(waiting), [...busy])
    .map(({ name }) => name)
    .join(' ');

describe('jobs that wait', () => {
  it('of one person begin as they came', () => {
    expect(order('a1 a2 a3', 'a')).toBe('a1 a2 a3');
  });

  it('go in turn from person to person', () => {
    expect(order('a1 a2 a3 b1 c1 b2')).toBe('a1 b1 c1 a2 b2 a3');
  });

  it('come after those of people who have nothing under way', () => {
    expect(order('a1 a2 b1', 'a')).toBe('b1 a1 a2');
    expect(order('a1 b1 b2', 'aab')).toBe('b1 a1 b2');
  });
});

describe('when they begin', () => {
  it('follows from what is under way, place by place', () => {
    // Two places, free in 30 and 90 s; jobs take (30 + 70 + 90 + 10) / 2 = 100 s.
    const busy = [
      { leftS: 30, sinceS: 70 },
      { leftS: 90, sinceS: 10 },
    ];
    expect(estimateStarts(busy, 4, 2)).toEqual([30, 90, 130, 190]);
  });

  it('is at once where a place is free, and unknown where nobody knows how long something takes', () => {
    expect(estimateStarts([{ leftS: 30, sinceS: 10 }], 2, 2)).toEqual([0, 30]);
    expect(estimateStarts([{ leftS: null, sinceS: 10 }], 2, 1)).toEqual([null, null]);
    expect(estimateStarts([], 1, 1)).toEqual([null]);
  });

  it('is told in round figures', () => {
    expect(describePlace(0, null)).toBe('Waiting: yours is next');
    expect(describePlace(0, 3)).toBe('Waiting: yours is next, begins in about 10 s');
    expect(describePlace(2, 47)).toBe('Waiting: 2 before yours, begins in about 50 s');
    expect(describePlace(9, 600)).toBe('Waiting: 9 before yours, begins in about 10 min');
  });
});
