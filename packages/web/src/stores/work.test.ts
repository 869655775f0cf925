import { Limit, type AssignmentView } from '@apodix/core';
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { effectScope, nextTick } from 'vue';
import { queryClient } from '../api/query-client.ts';
import { useNotices } from './notices.ts';
import { useWork } from './work.ts';

/** As much of a view as the contract asks for. */
const buildView = (id: string, title: string): AssignmentView => ({
  ...{ id, title, kind: 'course', courseTitle: 'Music', subject: 'music', dueAt: null, state: 'nothing-yet' },
  ...{ setAt: '2026-11-01T09:00:00.000Z', situation: '', nextStep: '', nextStop: 'brief', coverUrl: null },
  ...{ handedInAt: null, isChanged: false, proven: null, receiptId: null, instructions: '', slots: [] },
  ...{ limits: [Limit.parse({ id: 'l', kind: 'note' })], materials: [], rubric: [], points: null },
  ...{ attemptsAllowed: null, attemptsUsed: 0, isLateAllowed: true, isMine: false, isBriefChanged: false },
  ...{
    limitsFrom: 'course',
    ownLimitIds: [],
    answers: {},
    changes: [],
    group: null,
    dueByGroup: [],
    takes: [],
    made: [],
  },
  ...{ parcel: { text: { note: '', participants: '', isOwnWork: false }, items: [], answers: [] } },
  ...{ missing: [], handIns: [], jobs: [], events: [] },
  person: {
    id: 'ann',
    displayName: 'A',
    firstName: 'A',
    surname: 'B',
    candidateNumber: null,
    role: 'student',
  },
});

const answers = new Map<string, (response: Response) => void>();
const asked = vi.fn((path: string, _init?: RequestInit) => {
  return new Promise<Response>((resolve) => answers.set(path, resolve));
});
const answer = async (path: string, body: unknown, status = 200) => {
  await vi.waitFor(() => expect(answers.has(path)).toBe(true));
  answers.get(path)?.(new Response(JSON.stringify(body), { status }));
  answers.delete(path);
};

let scope = effectScope();
beforeEach(() => {
  queryClient.clear();
  answers.clear();
  asked.mockClear();
  vi.stubGlobal('fetch', asked);
  setActivePinia(createPinia());
  scope = effectScope();
});
afterEach(() => {
  scope.stop();
  vi.unstubAllGlobals();
});
const start = () => scope.run(() => useWork()) as ReturnType<typeof useWork>;

describe('one assignment', () => {
  it('is never replaced by the late answer of another', async () => {
    const work = start();
    work.open('first');
    await vi.waitFor(() => expect(answers.has('/api/assignments/first')).toBe(true));
    work.open('second');
    await answer('/api/assignments/second', buildView('second', 'Second'));
    await vi.waitFor(() => expect(work.assignment?.title).toBe('Second'));
    await answer('/api/assignments/first', buildView('first', 'First'));
    await nextTick();
    expect(work.assignment?.title).toBe('Second');
    expect([work.isMissing, work.isOffline]).toEqual([false, false]);
  });

  it('that cannot be reached is not told as missing, and one that is not there not as unreachable', async () => {
    const work = start();
    work.open('gone');
    await answer('/api/assignments/gone', { code: 'NOT_FOUND', message: 'Not here.', next: '' }, 404);
    await vi.waitFor(() => expect(work.isMissing).toBe(true));
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('offline')));
    work.open('away');
    await vi.waitFor(() => expect(work.isOffline).toBe(true), { timeout: 15_000 });
    expect(work.isMissing).toBe(false);
  }, 20_000);

  it('shows what a change answered, though an older answer comes later', async () => {
    const work = start();
    work.open('solo');
    await answer('/api/assignments/solo', buildView('solo', 'Before'));
    await vi.waitFor(() => expect(work.assignment?.title).toBe('Before'));
    const reading = work.reload();
    await vi.waitFor(() => expect(answers.has('/api/assignments/solo')).toBe(true));
    const late = answers.get('/api/assignments/solo');
    const writing = work.saveLimits([]);
    await answer('/api/assignments/solo/limits', buildView('solo', 'Changed'));
    await writing;
    late?.(new Response(JSON.stringify(buildView('solo', 'Before'))));
    await reading.catch(() => undefined);
    expect(work.assignment?.title).toBe('Changed');
  });

  it('of one’s own takes over the due time with its limit, and leaves it where the limit stays', async () => {
    const work = start();
    const due = Limit.parse({ id: 'due', kind: 'due', at: '2027-02-12T16:00' });
    const view = { ...buildView('solo', 'Solo'), isMine: true };
    work.open('solo');
    await answer('/api/assignments/solo', view);
    await vi.waitFor(() => expect(work.assignment).not.toBeNull());
    const save = async (limits: Limit[]) => {
      const writing = work.saveLimits(limits);
      await answer('/api/assignments/solo/limits', { ...view, limits });
      await writing;
      const sent = asked.mock.calls.findLast(([path]) => path === '/api/assignments/solo/limits')?.[1];
      return JSON.parse(String(sent?.body)) as Record<string, unknown>;
    };
    expect(await save([due])).toMatchObject({ dueAt: new Date('2027-02-12T16:00').toISOString() });
    expect(await save([due, Limit.parse({ id: 'sharp', kind: 'sharp' })])).not.toHaveProperty('dueAt');
    expect(await save([])).toMatchObject({ dueAt: null });
  });

  it('offers to bring back what was removed', async () => {
    const work = start();
    work.open('solo');
    await answer('/api/assignments/solo', buildView('solo', 'Solo'));
    await vi.waitFor(() => expect(work.assignment).not.toBeNull());
    const removing = work.removeTake('t1', 'Take one');
    await answer('/api/takes/t1', { isDone: true });
    await answer('/api/assignments/solo', buildView('solo', 'Solo'));
    await removing;
    const [notice] = useNotices().shown;
    expect([notice?.message, notice?.action?.label]).toEqual(['Take one is removed.', 'Undo']);
    const undoing = notice && useNotices().act(notice);
    await answer('/api/takes/t1/restore', { isDone: true });
    await answer('/api/assignments/solo', buildView('solo', 'Solo'));
    await undoing;
    expect(asked.mock.calls.map(([path, init]) => `${init?.method} ${path}`)).toContain(
      'POST /api/takes/t1/restore',
    );
  });
});
