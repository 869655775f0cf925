import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { CallError } from '../api/call-route.ts';
import { useNotices } from './notices.ts';

beforeEach(() => {
  vi.useFakeTimers();
  setActivePinia(createPinia());
});
afterEach(() => vi.useRealTimers());

describe('a notice', () => {
  it('goes after a while, stays in the list, and waits while somebody is on it', () => {
    const notices = useNotices();
    notices.add('Read again.');
    const [{ id } = { id: 0 }] = notices.shown;
    notices.pause(id);
    vi.advanceTimersByTime(60_000);
    expect(notices.shown).toHaveLength(1);
    notices.resume(id);
    vi.advanceTimersByTime(9_999);
    expect(notices.shown).toHaveLength(1);
    vi.advanceTimersByTime(1);
    expect([notices.shown.length, notices.kept.length]).toEqual([0, 1]);
  });

  it('of a fault stays until it is closed', () => {
    const notices = useNotices();
    notices.tellFault(
      new CallError({ code: 'X', message: 'It failed.', next: 'Try again.', detail: 'Why.' }),
    );
    vi.advanceTimersByTime(3_600_000);
    expect(notices.shown.map(({ message, next }) => [message, next])).toEqual([
      ['It failed. Why.', 'Try again.'],
    ]);
    notices.dismiss(notices.shown[0]?.id ?? 0);
    expect(notices.shown).toEqual([]);
  });

  it('undoes once, and says where that failed', async () => {
    const notices = useNotices();
    const undo = vi.fn(() => Promise.reject(new CallError({ code: 'X', message: 'Gone.', next: '' })));
    notices.addWithUndo('Take one is removed.', undo);
    const [notice] = notices.shown;
    if (!notice) throw new Error('There is no notice.');
    await notices.act(notice);
    expect(undo).toHaveBeenCalledTimes(1);
    expect(notices.shown.map(({ message }) => message)).toEqual(['Gone.']);
    expect(notices.kept.map(({ action }) => action)).toEqual([null, null]);
  });

  it('shows three at once, the newest last, and keeps the others', () => {
    const notices = useNotices();
    for (const word of ['a', 'b', 'c', 'd']) notices.add(word);
    expect(notices.shown.map(({ message }) => message)).toEqual(['b', 'c', 'd']);
    expect(notices.kept.map(({ message }) => message)).toEqual(['d', 'c', 'b', 'a']);
  });
});
