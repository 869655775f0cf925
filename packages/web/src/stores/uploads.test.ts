import { createPinia, disposePinia, setActivePinia, type Pinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nextTick } from 'vue';
import { useSession } from './session.ts';
import { useUploads } from './uploads.ts';

interface FakeUpload {
  readonly name: string;
  readonly options: { onSuccess: () => void; onError: (error: Error) => void };
  readonly start: ReturnType<typeof vi.fn>;
  readonly abort: ReturnType<typeof vi.fn>;
}
const made = vi.hoisted((): FakeUpload[] => []);
vi.mock('tus-js-client', () => ({
  Upload: class {
    readonly name: string;
    readonly options: FakeUpload['options'];
    readonly start = vi.fn();
    readonly abort = vi.fn(() => Promise.resolve());
    constructor(file: File, options: FakeUpload['options']) {
      this.name = file.name;
      this.options = options;
      made.push(this as unknown as FakeUpload);
    }
    findPreviousUploads = () => Promise.resolve([]);
  },
}));
vi.mock('../api/live-line.ts', () => ({ openLiveLine: () => () => undefined, findBrowserTools: () => ({}) }));

const signIn = async (id: string) => {
  const person = { id, displayName: id, firstName: id, surname: '', candidateNumber: null, role: 'student' };
  vi.stubGlobal('fetch', () => Promise.resolve(new Response(JSON.stringify({ person, locale: 'en-GB' }))));
  await useSession().signIn(id);
};
const file = (name: string) => new File(['some bytes'], name, { lastModified: 1 });
const started = () => made.filter((upload) => upload.start.mock.calls.length > 0).map(({ name }) => name);
const settle = async () => {
  for (let turn = 0; turn < 5; turn += 1) await nextTick();
};

let pinia: Pinia;
beforeEach(async () => {
  made.length = 0;
  localStorage.clear();
  pinia = createPinia();
  setActivePinia(pinia);
  await signIn('ann');
});

afterEach(() => disposePinia(pinia));

describe('forty photographs', () => {
  it('are sent two at a time, and one that fails keeps none of the others back', async () => {
    const uploads = useUploads();
    for (let count = 1; count <= 40; count += 1) uploads.add('solo', file(`${count}.jpg`));
    await settle();
    expect(started()).toEqual(['1.jpg', '2.jpg']);
    made[0]?.options.onSuccess();
    made[1]?.options.onError(new Error('cut'));
    await settle();
    expect(started()).toEqual(['1.jpg', '2.jpg', '3.jpg', '4.jpg']);
    expect(uploads.items.filter((item) => item.state === 'queued')).toHaveLength(36);
  });

  it('chosen twice are sent once', async () => {
    const uploads = useUploads();
    const keys = [uploads.add('solo', file('a.jpg')), uploads.add('solo', file('a.jpg'))];
    await settle();
    expect([new Set(keys).size, made.length]).toEqual([1, 1]);
  });
});

it('one that is paused makes room for the next, and goes on in its turn', async () => {
  const uploads = useUploads();
  const keys = ['a.jpg', 'b.jpg', 'c.jpg'].map((name) => uploads.add(null, file(name)));
  await settle();
  await uploads.pause(keys[0] ?? '');
  await settle();
  expect(started()).toEqual(['a.jpg', 'b.jpg', 'c.jpg']);
  uploads.resume(keys[0] ?? '');
  expect(uploads.items.find((item) => item.key === keys[0])?.state).toBe('queued');
});

it('the browser asks before a page is left on which something is being sent, and not otherwise', async () => {
  const uploads = useUploads();
  const isAsked = () => !window.dispatchEvent(new Event('beforeunload', { cancelable: true }));
  expect(isAsked()).toBe(false);
  const key = uploads.add('solo', file('a.jpg'));
  await settle();
  expect(isAsked()).toBe(true);
  await uploads.cancel(key);
  await settle();
  expect(isAsked()).toBe(false);
});

it('what one person was sending is nobody else’s', async () => {
  const uploads = useUploads();
  uploads.add('solo', file('a.jpg'));
  await settle();
  localStorage.setItem(
    'tus::apodix:ann:solo:a.jpg:10:1::123',
    JSON.stringify({ size: 10, metadata: { name: 'a.jpg' } }),
  );
  localStorage.setItem('tus::apodix:ann:solo:broken:10:1::124', 'no JSON');
  await signIn('bob');
  await settle();
  expect([made[0]?.abort.mock.calls.length, uploads.items]).toEqual([1, []]);
  uploads.recall('solo');
  expect(uploads.items).toEqual([]);
  await signIn('ann');
  uploads.recall('solo');
  expect(uploads.items.map(({ name, state }) => [name, state])).toEqual([
    ['a.jpg', 'waiting-for-file'],
    ['a file', 'waiting-for-file'],
  ]);
});
