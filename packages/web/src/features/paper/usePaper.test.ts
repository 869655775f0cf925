import { MOST_PAPER_BYTES, type PaperText } from '@apodix/core';
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { effectScope, type EffectScope } from 'vue';
import { CallError, callRoute } from '../../api/call-route.ts';
import { usePaper } from './usePaper.ts';

vi.mock('../../api/call-route.ts', async (original) => ({
  ...(await original<typeof import('../../api/call-route.ts')>()),
  callRoute: vi.fn(),
}));
vi.mock('../../api/live-line.ts', () => ({
  openLiveLine: () => () => undefined,
  findBrowserTools: () => ({}),
}));

const found: PaperText = {
  text: 'Hand in a vide0 of 2 minuts.',
  how: 'recognised',
  doubtful: [
    { start: 10, end: 15, text: 'vide0', confidence: 40 },
    { start: 21, end: 27, text: 'minuts', confidence: 52 },
  ],
  pages: ['AAAA', 'BBBB'],
};
const guest = { id: 'g', displayName: 'Guest', firstName: 'Guest', surname: '', candidateNumber: null };
const calls = vi.mocked(callRoute) as unknown as ReturnType<typeof vi.fn>;
let scope: EffectScope;
let person: object | null;
/** What reading the paper gives, as the call is told to stop or not. */
let answer: (signal: AbortSignal) => Promise<PaperText>;
beforeEach(() => {
  setActivePinia(createPinia());
  scope = effectScope();
  person = null;
  answer = () => Promise.resolve(found);
  calls.mockReset();
  calls.mockImplementation((route: string, options: { signal?: AbortSignal } = {}) => {
    if (route === 'signInAsGuest') person = { ...guest, role: 'guest' };
    return route === 'readPaper' && options.signal
      ? answer(options.signal)
      : Promise.resolve({ person, locale: 'en-GB' });
  });
});
afterEach(() => scope.stop());

function start() {
  const page = scope.run(() => usePaper());
  if (!page) throw new TypeError('a paper was expected');
  return page;
}
const sheet = (bytes = 'a page') => new File([bytes], 'sheet.jpg');
const asked = () => calls.mock.calls.map(([route]) => route as string);

it('takes somebody who is not signed in as a guest, and sends the file as it is', async () => {
  const page = start();
  await page.read(sheet('a page'));
  expect(asked()).toEqual(['readSession', 'signInAsGuest', 'readPaper']);
  expect(calls.mock.calls[2]?.[1]).toMatchObject({ body: { dataBase64: 'YSBwYWdl' } });
  expect([page.text.value, page.isReading.value, page.fault.value]).toEqual([found.text, false, null]);
  expect(page.picture.value).toBe('data:image/jpeg;base64,AAAA');
  page.page.value = 1;
  expect(page.picture.value).toBe('data:image/jpeg;base64,BBBB');
});

it('moves doubtful words with what is corrected before them, and forgets those that are settled', async () => {
  const page = start();
  await page.read(sheet());
  page.edit(found.text.replace('vide0', 'video file'));
  expect(page.doubtful.value).toEqual([{ start: 26, end: 32, text: 'minuts', confidence: 52 }]);
  const [last] = page.doubtful.value;
  if (last) page.settle(last);
  expect(page.doubtful.value).toEqual([]);
});

it('says what the server says, and that a file is too large without sending it', async () => {
  const page = start();
  const fault = { code: 'NOT_PAPER', message: 'This is not a page that can be read.', next: 'Choose a PDF.' };
  answer = () => Promise.reject(new CallError(fault));
  await page.read(sheet());
  expect([page.isOpen.value, page.isReading.value, page.fault.value]).toEqual([true, false, fault]);
  calls.mockClear();
  const large = sheet();
  Object.defineProperty(large, 'size', { value: MOST_PAPER_BYTES + 1 });
  await page.read(large);
  expect(page.fault.value?.message).toBe('This file is larger than 20 MB.');
  expect(asked()).toEqual([]);
});

/** An answer that does not come until it is told to stop. */
const untilStopped = (signal: AbortSignal) =>
  new Promise<PaperText>((_resolve, reject) => {
    signal.addEventListener('abort', () => reject(new DOMException('stopped', 'AbortError')));
  });

it('tells nothing of a reading that was left', async () => {
  const page = start();
  answer = untilStopped;
  const reading = page.read(sheet());
  await vi.waitFor(() => expect(asked()).toContain('readPaper'));
  expect(page.isReading.value).toBe(true);
  page.close();
  await reading;
  expect([page.isOpen.value, page.isReading.value, page.fault.value]).toEqual([false, false, null]);
});

it('reads another file instead of the one under way, and waits no more where that one is too large', async () => {
  const page = start();
  answer = untilStopped;
  const first = page.read(sheet());
  await vi.waitFor(() => expect(asked()).toContain('readPaper'));
  answer = () => Promise.resolve(found);
  await page.read(sheet());
  await first;
  expect([page.text.value, page.isReading.value]).toEqual([found.text, false]);
  answer = untilStopped;
  calls.mockClear();
  const second = page.read(sheet());
  await vi.waitFor(() => expect(asked()).toContain('readPaper'));
  const large = sheet();
  Object.defineProperty(large, 'size', { value: MOST_PAPER_BYTES + 1 });
  await page.read(large);
  await second;
  expect([page.isReading.value, page.fault.value?.message]).toEqual([
    false,
    'This file is larger than 20 MB.',
  ]);
});
