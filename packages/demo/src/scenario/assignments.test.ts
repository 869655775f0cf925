import { Announcement, readInstructions } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { buildAssignments } from './assignments.ts';

const now = Date.parse('2026-11-24T09:07:00.000Z');
const assignments = buildAssignments(now);

describe('the assignments of the demo', () => {
  it('have the form that a course site announces, each its own name', () => {
    for (const each of assignments) expect(Announcement.safeParse(each).success).toBe(true);
    expect(new Set(assignments.map((each) => each.id)).size).toBe(assignments.length);
  });

  it('are set in the past and due on whole quarters of an hour', () => {
    for (const { setAt, dueAt } of assignments) {
      expect(Date.parse(setAt)).toBeLessThanOrEqual(now + 900_000);
      if (dueAt !== null) expect(Date.parse(dueAt) % 900_000).toBe(0);
    }
  });

  it('quote their own instructions, word for word', () => {
    for (const { id, instructions, limits } of assignments) {
      for (const limit of limits)
        if (limit.words !== null)
          expect([id, instructions]).toEqual([id, expect.stringContaining(limit.words)]);
    }
  });

  it('show one overdue, one for groups and one whose limits have to be read', () => {
    expect(assignments.some((each) => each.dueAt !== null && Date.parse(each.dueAt) < now)).toBe(true);
    expect(assignments.some((each) => each.dueByGroup.length > 1)).toBe(true);
    const prose = assignments.find((each) => each.limits.length === 0);
    expect(
      readInstructions(prose?.instructions ?? '', { now: '2026-11-24T09:07' }).limits.length,
    ).toBeGreaterThanOrEqual(3);
  });
});
