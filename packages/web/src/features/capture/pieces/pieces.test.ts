import { IDBFactory } from 'fake-indexeddb';
import { describe, expect, it } from 'vitest';
import { DatabasePieceStore } from './database-piece-store.ts';
import type { KeptRecording } from './piece-store.ts';

const recording = (id: string, change: Partial<KeptRecording> = {}): KeptRecording => ({
  id,
  personId: 'ann',
  assignmentId: 'solo',
  mode: 'video',
  origin: 'camera',
  name: `${id}.webm`,
  mimeType: 'video/webm',
  startedAt: '2026-11-27T10:00:00.000Z',
  durationMs: 0,
  isWhole: false,
  removedAt: null,
  ...change,
});
const text = async (file: Blob) => new TextDecoder().decode(await readBytes(file));
const readBytes = (file: Blob) =>
  new Promise<ArrayBuffer>((done) => {
    const reader = new FileReader();
    reader.onload = () => done(reader.result as ArrayBuffer);
    reader.readAsArrayBuffer(file);
  });
/** jsdom's blobs cannot give their bytes themselves. */
const piece = (words: string): Blob =>
  Object.assign(new Blob([words]), {
    arrayBuffer: () => Promise.resolve(new TextEncoder().encode(words).buffer as ArrayBuffer),
  });

describe('recordings in the database of the browser', () => {
  it('stand in their order, one file, after the page went away', async () => {
    const factory = new IDBFactory();
    const store = new DatabasePieceStore(factory);
    await store.begin(recording('a'));
    for (const words of ['one ', 'two ', 'three']) await store.append('a', piece(words));
    // Another page, that knows nothing of the first.
    const later = new DatabasePieceStore(factory);
    const [found] = await later.list('ann');
    expect(found).toMatchObject({ id: 'a', isWhole: false, sizeBytes: 13 });
    const file = await later.read(recording('a'));
    expect([await text(file), file.name, file.type]).toEqual(['one two three', 'a.webm', 'video/webm']);
  });

  it('are told to their owner alone, newest first', async () => {
    const store = new DatabasePieceStore(new IDBFactory());
    await store.begin(recording('old', { startedAt: '2026-11-27T09:00:00.000Z' }));
    await store.begin(recording('new'));
    await store.begin(recording('others', { personId: 'bob' }));
    for (const id of ['old', 'new', 'others']) await store.append(id, piece('x'));
    expect((await store.list('ann')).map(({ id }) => id)).toEqual(['new', 'old']);
    expect(await store.list('nobody')).toEqual([]);
  });

  it('that never got a piece are none, and what is removed is gone', async () => {
    const store = new DatabasePieceStore(new IDBFactory());
    await store.begin(recording('empty'));
    await store.begin(recording('full'));
    await store.append('full', piece('x'));
    await store.update(recording('full', { isWhole: true, durationMs: 1200 }));
    expect(await store.list('ann')).toMatchObject([{ id: 'full', isWhole: true, durationMs: 1200 }]);
    await store.remove(recording('full'));
    expect(await store.list('ann')).toEqual([]);
    expect(await text(await store.read(recording('full')))).toBe('');
  });
});
