import { Limit, type JobView, type MediaFacts, type Sheet, type TakeView } from '@apodix/core';
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { effectScope, type EffectScope } from 'vue';
import { CallError, callRoute } from '../../api/call-route.ts';
import { useLive } from '../../stores/live.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { describeRefused, useSheet } from './useSheet.ts';

vi.mock('../../api/call-route.ts', async (original) => ({
  ...(await original<typeof import('../../api/call-route.ts')>()),
  callRoute: vi.fn(),
}));

const photo = (id: string) =>
  ({
    id,
    name: `${id}.jpg`,
    recipe: null,
    facts: { photo: { widthPx: 4, heightPx: 3 } } as MediaFacts,
  }) as TakeView;
let scope: EffectScope;
let kept: { version: number; sheet: Sheet | null };
const calls = vi.mocked(callRoute) as unknown as ReturnType<typeof vi.fn>;
beforeEach(() => {
  vi.useFakeTimers();
  setActivePinia(createPinia());
  scope = effectScope();
  kept = { version: 0, sheet: null };
  calls.mockReset();
  calls.mockImplementation((route: string, { body }: { body?: { baseVersion: number; sheet: Sheet } }) => {
    if (route === 'writeSheet' && body) {
      if (body.baseVersion !== kept.version)
        return Promise.reject(new CallError({ code: 'CHANGED_MEANWHILE', message: 'Changed.', next: '' }));
      kept = { version: kept.version + 1, sheet: body.sheet };
    }
    return Promise.resolve(kept);
  });
  // As the store has them: newest first.
  vi.spyOn(useWork(), 'readyTakes', 'get').mockReturnValue([photo('second'), photo('first')]);
});
afterEach(() => {
  scope.stop();
  vi.useRealTimers();
});
async function start() {
  const page = scope.run(() => useSheet('a'));
  if (!page) throw new TypeError('a sheet was expected');
  await page.read();
  return page;
}
const order = ({ pieces }: Sheet) => pieces.map(({ takeId }) => takeId);

it('begins with every photograph in the order they came, with nothing to undo and nothing kept', async () => {
  const page = await start();
  expect([order(page.sheet.value), page.canUndo.value, kept.sheet]).toEqual([
    ['first', 'second'],
    false,
    null,
  ]);
});

it('keeps what settled, and goes back and forth through it', async () => {
  const page = await start();
  page.move(0, 1);
  expect(page.isKept.value).toBe(false);
  await vi.advanceTimersByTimeAsync(1000);
  expect([kept.sheet && order(kept.sheet), page.isKept.value]).toEqual([['second', 'first'], true]);
  page.write('first', { title: 'Dawn' });
  await vi.advanceTimersByTimeAsync(1000);
  page.undo();
  await vi.advanceTimersByTimeAsync(1000);
  expect(kept.sheet?.pieces.map(({ title }) => title)).toEqual(['', '']);
  page.undo();
  await vi.advanceTimersByTimeAsync(1000);
  expect([kept.sheet && order(kept.sheet), page.canUndo.value]).toEqual([['first', 'second'], false]);
  page.redo();
  expect(order(page.sheet.value)).toEqual(['second', 'first']);
});

it('changed in another window: it is told, what is here stays, and the next change is kept', async () => {
  const page = await start();
  kept = { version: 5, sheet: page.sheet.value };
  page.change({ title: 'Mine' });
  await vi.advanceTimersByTimeAsync(1000);
  expect([useNotices().shown.length, page.sheet.value.title, page.isKept.value]).toEqual([1, 'Mine', false]);
  page.change({ title: 'Mine still' });
  await vi.advanceTimersByTimeAsync(1000);
  expect([kept.version, kept.sheet?.title, page.isKept.value]).toEqual([6, 'Mine still', true]);
});

it('keeps at once where the page is left', async () => {
  const page = await start();
  page.remove('first');
  scope.stop();
  await vi.advanceTimersByTimeAsync(0);
  expect(kept.sheet && order(kept.sheet)).toEqual(['second']);
});

it('knows a photograph that is gone, and takes it off', async () => {
  kept = {
    version: 1,
    sheet: { layout: 'single', paper: 'a4', title: '', pieces: [] },
  };
  const page = await start();
  page.add('first');
  page.add('gone');
  expect([page.isAnyGone.value, page.others.value.map(({ id }) => id)]).toEqual([true, ['second']]);
  page.dropGone();
  expect([order(page.sheet.value), page.isAnyGone.value]).toEqual([['first'], false]);
});

it('stops what is under way: laying it out first, then measuring what came of it', async () => {
  const work = useWork();
  const cancel = vi.spyOn(work, 'cancel').mockResolvedValue(undefined);
  const page = await start();
  const job = { id: 'laying', kind: 'sheet', state: 'running', takeId: null, assignmentId: 'a' };
  calls.mockImplementation((route: string) =>
    Promise.resolve(route === 'makeSheet' ? { job } : { version: 1, sheet: page.sheet.value }),
  );
  await page.make();
  await page.cancel();
  useLive().accept([{ ...job, state: 'done' } as JobView]);
  vi.spyOn(work, 'takes', 'get').mockReturnValue([{ id: 'laying', state: 'inspecting' } as TakeView]);
  vi.spyOn(work, 'findJob').mockReturnValue({ ...job, id: 'measuring', kind: 'inspect' } as JobView);
  await page.cancel();
  expect(cancel.mock.calls).toEqual([['laying'], ['measuring']]);
});

it('says where a PDF is not taken, and what is', () => {
  const format = (...wanted: string[]) => [Limit.parse({ id: 'f', kind: 'format', wanted })];
  expect([describeRefused([]), describeRefused(format('jpeg', 'pdf'))]).toEqual([null, null]);
  expect(describeRefused(format('jpeg', 'png'))).toMatch(
    /takes JPEG or PNG: hand the photographs in one by one/,
  );
});
