import { expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { describeChanges, type AnnouncedWork } from './describe-changes.ts';

const before: AnnouncedWork = {
  title: 'Solo',
  instructions: 'At most 10 MB.',
  limits: [Limit.parse({ id: 'a', kind: 'file-size', maxBytes: 10_000_000 })],
  slots: [{ id: 's', label: 'Video', item: 'video', min: 1, max: 1, alternative: null }],
  dueAt: '2026-11-27T16:00:00.000Z',
  dueByGroup: [],
  attemptsAllowed: 2,
  isLateAllowed: true,
};

it('nothing is told where nothing changed', () => {
  const reordered = { ...before, limits: before.limits.map((limit) => ({ ...limit, id: 'other' })) };
  expect(describeChanges(before, reordered)).toEqual([]);
});

it('every change is told with what was before and what is now', () => {
  const after: AnnouncedWork = {
    ...before,
    instructions: 'At most 8 MB, and two minutes.',
    limits: [
      Limit.parse({ id: 'a', kind: 'file-size', maxBytes: 8_000_000 }),
      Limit.parse({ id: 'b', kind: 'length', maxUs: 120_000_000 }),
    ],
    dueAt: '2026-11-28T16:00:00.000Z',
    dueByGroup: [{ group: '10B', dueAt: '2026-11-30T16:00:00.000Z' }],
    attemptsAllowed: null,
    isLateAllowed: false,
  };
  const told = describeChanges(before, after);
  expect(told.map(({ what, before: from, after: to, as }) => [what, from, to, as])).toEqual([
    ['Due', '2026-11-27T16:00:00.000Z', '2026-11-28T16:00:00.000Z', 'instant'],
    ['Due for 10B', '2026-11-27T16:00:00.000Z', '2026-11-30T16:00:00.000Z', 'instant'],
    ['File size', 'at most 10 MB', 'at most 8 MB', 'words'],
    ['Length', null, expect.stringContaining('2:00') as string, 'words'],
    ['Attempts', '2', 'as many as you like', 'words'],
    ['Late hand-ins', 'taken', 'not taken', 'words'],
    ['The instructions have new words', null, null, 'words'],
  ]);
});
