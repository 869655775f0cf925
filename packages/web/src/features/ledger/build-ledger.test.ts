import { AssignmentView, Limit } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { buildParcelRows, summarizeLedger, type LedgerRow } from './build-ledger.ts';

const view = (limits: Limit[], changes: Partial<AssignmentView> = {}): AssignmentView => ({
  ...AssignmentView.parse({
    id: 'a',
    kind: 'course',
    title: 'T',
    courseTitle: 'C',
    subject: 's',
    dueAt: '2026-11-27T16:00:00Z',
    setAt: '2026-11-20T16:00:00Z',
    state: 'made',
    proven: null,
    situation: '',
    nextStep: '',
    nextStop: 'fit',
    coverUrl: null,
    handedInAt: null,
    receiptId: null,
    instructions: '',
    limits,
    slots: [],
    materials: [],
    rubric: [],
    points: null,
    attemptsAllowed: null,
    attemptsUsed: 0,
    isLateAllowed: true,
    isMine: false,
    isBriefChanged: false,
    isChanged: false,
    limitsFrom: 'course',
    answers: {},
    ownLimitIds: [],
    changes: [],
    group: null,
    dueByGroup: [],
    person: {
      id: 'p',
      displayName: 'P',
      firstName: 'P',
      surname: 'Q',
      candidateNumber: null,
      role: 'student',
    },
    takes: [],
    made: [],
    parcel: { text: { note: '', participants: '', isOwnWork: false }, items: [] },
    missing: [],
    handIns: [],
    jobs: [],
    events: [],
  }),
  ...changes,
});
const NOW = Date.parse('2026-11-24T12:00:00Z');
const limits = [
  Limit.parse({ id: 'who', kind: 'participants' }),
  Limit.parse({ id: 'note', kind: 'note' }),
  Limit.parse({ id: 'due', kind: 'due', at: '2026-11-27T16:00' }),
  Limit.parse({ id: 'points', kind: 'points', points: 20 }),
];

describe('rows for the parcel', () => {
  it('are open before Hand in, and short there until they are filled', () => {
    expect(buildParcelRows(view(limits), false, NOW).map((row) => [row.limit.id, row.planned])).toEqual([
      ['who', null],
      ['note', null],
    ]);
    expect(buildParcelRows(view(limits), true, NOW).map((row) => [row.limit.id, row.planned?.state])).toEqual(
      [
        ['who', 'short'],
        ['note', 'short'],
        ['due', 'met'],
      ],
    );
    const filled = view(limits, {
      parcel: { text: { note: 'x', participants: 'Ann', isOwnWork: true }, items: [], answers: [] },
    });
    expect(buildParcelRows(filled, true, NOW).every((row) => row.planned?.state === 'met')).toBe(true);
  });

  it('tells a due time that has passed', () => {
    expect(
      buildParcelRows(view(limits), true, Date.parse('2026-11-28T00:00:00Z')).find(
        (row) => row.limit.id === 'due',
      )?.planned?.state,
    ).toBe('short');
  });
});

describe('summarizeLedger', () => {
  it('lists what only a person can put right', () => {
    const rows = buildParcelRows(view(limits), true, NOW);
    expect(summarizeLedger(rows, false).forPerson).toEqual([
      'Write the names of everyone who took part, in Hand in.',
      'Write a note, in Hand in.',
    ]);
    expect(summarizeLedger([] as LedgerRow[], false).sentence).toBe('no limits are set');
  });

  it('never calls every must proven where something is left to a person', () => {
    const filled = view(limits, {
      parcel: { text: { note: 'x', participants: 'Ann', isOwnWork: true }, items: [], answers: [] },
    });
    const rows = buildParcelRows(filled, true, NOW);
    expect(summarizeLedger(rows, true).sentence).toBe('every must is proven on the file');
    const [first, ...others] = rows;
    if (!first?.best) throw new Error('It was filled.');
    const open = [{ ...first, best: { ...first.best, state: 'person' as const } }, ...others];
    expect(summarizeLedger(open, true).sentence).toBe(
      `${rows.length - 1} of ${rows.length} proven on the file, 1 left to you`,
    );
    expect(summarizeLedger(open, false).sentence).not.toContain('every must');
  });
});
