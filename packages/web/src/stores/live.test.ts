import type { JobView, LiveEvent } from '@apodix/core';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it, vi } from 'vitest';
import { queryClient } from '../api/query-client.ts';
import { useLive } from './live.ts';

const line = vi.hoisted(() => ({
  people: [] as string[],
  closed: 0,
  listener: null as null | { onEvent: (event: LiveEvent) => void; onOpen: () => void },
}));
vi.mock('../api/live-line.ts', () => ({
  findBrowserTools: (id: string) => line.people.push(id),
  openLiveLine: (listener: NonNullable<typeof line.listener>) => {
    line.listener = listener;
    return () => (line.closed += 1);
  },
}));

const build = (id: string, state: JobView['state'], assignmentId: string | null = 'solo'): JobView => ({
  ...{ id, kind: 'make', state, stage: '', share: 0, secondsLeft: null },
  ...{ takeId: null, assignmentId, fault: null },
});
const readAnew = vi.spyOn(queryClient, 'invalidateQueries');
beforeEach(() => {
  Object.assign(line, { people: [], closed: 0, listener: null });
  readAnew.mockClear();
  setActivePinia(createPinia());
});
const listAnew = () =>
  readAnew.mock.calls.map(([filters]) => {
    const { queryKey } = (filters ?? {}) as { queryKey?: readonly string[] };
    return queryKey?.join(' ') ?? 'everything';
  });

it('a job that ended while nobody was told is open no more once its assignment is read', () => {
  const live = useLive();
  live.accept([build('lost', 'running'), build('other', 'running', 'duet'), build('done', 'done')]);
  live.settle('solo', [build('new', 'waiting')]);
  expect(Object.keys(live.jobs).sort()).toEqual(['done', 'new', 'other']);
});

it('reads anew what an event is about, and everything once the stream is there again', () => {
  const live = useLive();
  live.follow({ id: 'ann' });
  live.follow({ id: 'ann' });
  expect(line.people).toEqual(['ann']);
  line.listener?.onEvent({ type: 'job', job: build('a', 'running') });
  expect([live.jobs.a?.state, listAnew()]).toEqual(['running', []]);
  line.listener?.onEvent({ type: 'job', job: build('a', 'done') });
  line.listener?.onEvent({ type: 'takes' });
  line.listener?.onOpen();
  expect(listAnew()).toEqual(['assignment solo', 'today', 'takes', 'everything']);
});

it('forgets everything when the person goes', () => {
  const live = useLive();
  live.follow({ id: 'ann' });
  live.accept([build('a', 'running')]);
  live.leave();
  expect([line.closed, live.jobs]).toEqual([1, {}]);
});
