import type { AssignmentView, ParcelInput } from '@apodix/core';
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { computed, effectScope, shallowRef, type EffectScope } from 'vue';
import { CallError } from '../../api/call-route.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { useParcelDraft } from './useParcelDraft.ts';

const buildView = (id: string, note = '') =>
  ({
    id,
    parcel: {
      text: { note, participants: '', isOwnWork: false },
      items: [{ slotId: 's', madeId: 'm' }],
      answers: [{ slotId: 'why', text: `${id} before` }],
    },
  }) as unknown as AssignmentView;

let scope: EffectScope;
const view = shallowRef<AssignmentView | null>(null);
const saves = vi.fn<(parcel: ParcelInput, id: string) => Promise<void>>();
beforeEach(() => {
  vi.useFakeTimers();
  setActivePinia(createPinia());
  scope = effectScope();
  view.value = buildView('solo');
  saves.mockReset();
  saves.mockResolvedValue(undefined);
  vi.spyOn(useWork(), 'saveParcel').mockImplementation(saves as never);
});
afterEach(() => {
  scope.stop();
  vi.useRealTimers();
});
const start = () =>
  scope.run(() => useParcelDraft(computed(() => view.value))) as ReturnType<typeof useParcelDraft>;

it('keeps what is typed once the writing pauses, with everything else that is in the parcel', async () => {
  const draft = start();
  draft.answers.why = 'Because';
  draft.saveSoon();
  await vi.advanceTimersByTimeAsync(300);
  draft.answers.why = 'Because of the light.';
  draft.saveSoon();
  expect([saves.mock.calls.length, draft.isSaved.value]).toEqual([0, false]);
  await vi.advanceTimersByTimeAsync(500);
  expect(saves.mock.calls).toEqual([
    [
      {
        text: { note: '', participants: '', isOwnWork: false },
        items: [{ slotId: 's', madeId: 'm' }],
        answers: [{ slotId: 'why', text: 'Because of the light.' }],
      },
      'solo',
    ],
  ]);
  expect(draft.isSaved.value).toBe(true);
});

it('keeps it under its own assignment where another is opened before the writing has paused', async () => {
  const draft = start();
  draft.text.note = 'For solo';
  draft.saveSoon();
  view.value = buildView('duet', 'For duet');
  await vi.runAllTimersAsync();
  expect(saves.mock.calls.map(([parcel, id]) => [id, parcel.text.note])).toEqual([['solo', 'For solo']]);
  expect([draft.text.note, draft.answers.why]).toEqual(['For duet', 'duet before']);
});

it('is not overwritten by what the server tells while something is typed', async () => {
  const draft = start();
  draft.text.note = 'Half a sen';
  view.value = buildView('solo', 'older');
  await vi.runAllTimersAsync();
  expect(draft.text.note).toBe('Half a sen');
});

it('says where it could not be kept, and is not called kept', async () => {
  saves.mockRejectedValueOnce(new CallError({ code: 'UNREACHABLE', message: 'Away.', next: '' }));
  const draft = start();
  draft.text.note = 'x';
  draft.saveSoon();
  expect(await draft.save()).toBe(false);
  expect([draft.isSaved.value, useNotices().shown.map(({ message }) => message)]).toEqual([false, ['Away.']]);
});

it('is kept where the page is left', async () => {
  const draft = start();
  draft.text.note = 'Last words';
  draft.saveSoon();
  scope.stop();
  await vi.advanceTimersByTimeAsync(0);
  expect(saves).toHaveBeenCalledTimes(1);
});
