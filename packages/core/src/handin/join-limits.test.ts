import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { isSameLimits, joinLimits } from './join-limits.ts';

const size = (id: string, maxBytes: number, changes: object = {}) =>
  Limit.parse({ id, kind: 'file-size', maxBytes, ...changes });
const length = Limit.parse({ id: 'len', kind: 'length', maxUs: 120_000_000 });

describe('limits that the course announced', () => {
  const course = { limits: [size('a', 10_000_000), length], isAnnounced: true };
  it('stand as they are, whatever a student reads', () => {
    const { limits, origin, ownIds } = joinLimits(course, [size('a', 20_000_000), length]);
    expect(limits.slice(0, 2)).toEqual(course.limits);
    expect(limits.filter((limit) => limit.severity === 'must')).toEqual(course.limits);
    expect([origin, ownIds]).toEqual(['course', ['own-a']]);
    expect(limits[2]).toMatchObject({ id: 'own-a', severity: 'should', maxBytes: 20_000_000 });
  });
  it('cannot be left out by a student', () => expect(joinLimits(course, []).limits).toEqual(course.limits));
  it('count once where the student reads the same in other words', () =>
    expect(joinLimits(course, [size('z', 10_000_000, { words: 'ten MB' }), length]).ownIds).toEqual([]));
});

it('kept again as they are shown, a student’s own limits stay as they are', () => {
  const course = { limits: [size('a', 10_000_000)], isAnnounced: true };
  const once = joinLimits(course, [size('a', 8_000_000)]);
  expect(joinLimits(course, once.limits)).toEqual(once);
});

describe('limits that were read from instructions', () => {
  const course = { limits: [size('a', 10_000_000)], isAnnounced: false };
  it('give way to the student’s corrections, and it is said', () => {
    const own = [size('a', 8_000_000, { isChangedByPerson: true })];
    expect(joinLimits(course, own)).toEqual({ limits: own, origin: 'read-and-corrected', ownIds: [] });
    expect(joinLimits(course, null)).toMatchObject({ origin: 'read' });
  });
  it('confirmed as they were read, they were read', () =>
    expect(joinLimits(course, [size('b', 10_000_000)]).origin).toBe('read'));
});

it('the order of limits asks for nothing', () => {
  expect(isSameLimits([size('a', 1), length], [length, size('b', 1)])).toBe(true);
  expect(isSameLimits([size('a', 1)], [size('a', 2)])).toBe(false);
});
