import type { LiveEvent } from '@apodix/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { openLiveLine, type LineTools } from './live-line.ts';

type Source = ReturnType<LineTools['createSource']>;
let sources: { -readonly [K in keyof Source]: Source[K] }[] = [];
let leaders: { signal: AbortSignal; onLead: () => void }[] = [];
let channels: NonNullable<LineTools['channel']>[] = [];

beforeEach(() => {
  vi.useFakeTimers();
  [sources, leaders, channels] = [[], [], []];
});
afterEach(() => vi.useRealTimers());

/** A tab of one browser: locks are given in turn, channels hear each other. */
function openTab() {
  const heard: string[] = [];
  const channel: NonNullable<LineTools['channel']> = {
    onmessage: null,
    close: () => (channels = channels.filter((each) => each !== channel)),
    postMessage: (data: unknown) => {
      for (const other of channels)
        if (other !== channel) other.onmessage?.call(null as never, { data } as MessageEvent);
    },
  };
  channels.push(channel);
  const close = openLiveLine(
    {
      onEvent: (event: LiveEvent) => heard.push(event.type),
      onOpen: () => heard.push('open'),
    },
    {
      channel,
      createSource: () => {
        const source = { readyState: 0, onopen: null, onmessage: null, onerror: null, close: vi.fn() };
        sources.push(source);
        return source;
      },
      lead: (signal, onLead) => {
        const leader = { signal, onLead };
        leaders.push(leader);
        signal.addEventListener('abort', () => {
          leaders = leaders.filter((each) => each !== leader);
          leaders[0]?.onLead();
        });
        if (leaders.length === 1) onLead();
      },
    },
  );
  return { heard, close };
}
const open = (index: number) => sources[index]?.onopen?.call(null as never, new Event('open'));
const say = (index: number, data: unknown) =>
  sources[index]?.onmessage?.call(null as never, { data: JSON.stringify(data) } as MessageEvent);
function fail(index: number, readyState: 0 | 2): void {
  const source = sources[index];
  if (!source) throw new Error('There is no such stream.');
  source.readyState = readyState;
  source.onerror?.call(null as never, new Event('error'));
}

describe('the line', () => {
  it('is opened again after a fault that ends it, later and later, and everything is read anew', () => {
    const tab = openTab();
    open(0);
    for (const [count, waitMs] of [1000, 2000, 4000].entries()) {
      fail(count, 2);
      vi.advanceTimersByTime(waitMs - 1);
      expect(sources).toHaveLength(count + 1);
      vi.advanceTimersByTime(1);
      expect(sources).toHaveLength(count + 2);
    }
    open(3);
    expect(tab.heard).toEqual(['open', 'open']);
    fail(3, 2);
    vi.advanceTimersByTime(1000);
    expect(sources).toHaveLength(5);
  });

  it('is left to the browser where that tries again by itself', () => {
    openTab();
    fail(0, 0);
    vi.advanceTimersByTime(60_000);
    expect(sources).toHaveLength(1);
  });

  it('is one for all tabs; another takes it over when the one that holds it goes', () => {
    const [first, second] = [openTab(), openTab()];
    expect(sources).toHaveLength(1);
    open(0);
    say(0, { type: 'takes' });
    say(0, { type: 'nonsense' });
    expect([first.heard, second.heard]).toEqual([
      ['open', 'takes'],
      ['open', 'takes'],
    ]);
    first.close();
    expect(sources).toHaveLength(2);
    open(1);
    expect([first.heard.length, second.heard]).toEqual([2, ['open', 'takes', 'open']]);
  });

  it('tells nothing and opens nothing once it was left', () => {
    const tab = openTab();
    fail(0, 2);
    tab.close();
    vi.advanceTimersByTime(60_000);
    expect([sources.length, tab.heard]).toEqual([1, []]);
  });
});
