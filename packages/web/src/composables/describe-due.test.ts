import { describe, expect, it } from 'vitest';
import { describeDue, describePast } from './describe-due.ts';
import { nameKey } from '../keys/useKeys.ts';

const now = Date.parse('2026-11-24T12:00:00Z');
const at = (hours: number) => new Date(now + hours * 3_600_000).toISOString();

describe('describeDue', () => {
  it.each([
    [52, '2 d 4 h left', false],
    [9, '9 h left', true],
    [3.5, '3 h 30 min left', true],
    [-27, '1 d 3 h late', true],
  ])('%d hours: %s', (hours, left, isUrgent) =>
    expect(describeDue(at(hours), at(-100), now)).toMatchObject({ left, isUrgent }),
  );
  it('tells how much of the time has passed, between nothing and all', () => {
    expect([
      describeDue(at(10), at(-10), now)?.passed,
      describeDue(at(10), at(1), now)?.passed,
      describeDue(at(-1), at(-2), now)?.passed,
    ]).toEqual([0.5, 0, 1]);
  });
  it('says nothing without a due time', () => expect(describeDue(null, null, now)).toBeNull());
});

it('a past instant is today or yesterday where it is', () => {
  const noon = new Date(2026, 10, 24, 12).getTime();
  expect(describePast(new Date(2026, 10, 24, 9, 5).toISOString(), noon)).toMatch(/^today /);
  expect(describePast(new Date(2026, 10, 23, 9, 5).toISOString(), noon)).toMatch(/^yesterday /);
});

it.each([
  [{ key: 'S' }, 's'],
  [{ key: 'z', ctrlKey: true }, 'Ctrl+z'],
  [{ key: 'Z', ctrlKey: true, shiftKey: true }, 'Ctrl+Shift+z'],
  [{ key: 'z', metaKey: true }, 'Ctrl+z'],
  [{ key: ' ' }, ' '],
  [{ key: 'ArrowLeft' }, 'ArrowLeft'],
])('key %j is %s', (event, name) => {
  expect(
    nameKey({
      key: event.key,
      ctrlKey: 'ctrlKey' in event,
      metaKey: 'metaKey' in event,
      shiftKey: 'shiftKey' in event,
    }),
  ).toBe(name);
});
