import type { KeptRecording, ListedRecording } from './piece-store.ts';

/*
 * Recordings in the browser's private file system. A sync access handle that is flushed after every piece
 * loses nothing when the browser is killed; an open writable would lose all of it.
 */

export type PieceRequest =
  | { readonly do: 'begin'; readonly recording: KeptRecording }
  | { readonly do: 'append'; readonly id: string; readonly bytes: ArrayBuffer }
  | { readonly do: 'update'; readonly recording: KeptRecording; readonly isClosed: boolean }
  | { readonly do: 'list'; readonly personId: string }
  | { readonly do: 'read'; readonly recording: KeptRecording }
  | { readonly do: 'remove'; readonly recording: KeptRecording };
export type PieceAnswer =
  { readonly call: number; readonly value: unknown } | { readonly call: number; readonly fault: string };

const FOLDER = 'takes';
const open = new Map<string, FileSystemSyncAccessHandle>();

async function findFolder(personId: string): Promise<FileSystemDirectoryHandle> {
  const root = await navigator.storage.getDirectory();
  const takes = await root.getDirectoryHandle(FOLDER, { create: true });
  return takes.getDirectoryHandle(encodeURIComponent(personId) || 'nobody', { create: true });
}

async function writeFacts(recording: KeptRecording): Promise<void> {
  const folder = await findFolder(recording.personId);
  const file = await folder.getFileHandle(`${recording.id}.json`, { create: true });
  const handle = await file.createSyncAccessHandle();
  try {
    const bytes = new TextEncoder().encode(JSON.stringify(recording));
    handle.truncate(0);
    handle.write(bytes, { at: 0 });
    handle.flush();
  } finally {
    handle.close();
  }
}

const requests = {
  begin: async ({ recording }: Extract<PieceRequest, { do: 'begin' }>) => {
    const folder = await findFolder(recording.personId);
    const file = await folder.getFileHandle(`${recording.id}.bin`, { create: true });
    open.set(recording.id, await file.createSyncAccessHandle());
    await writeFacts(recording);
  },
  append: ({ id, bytes }: Extract<PieceRequest, { do: 'append' }>) => {
    const handle = open.get(id);
    if (!handle) throw new Error('This recording is not open.');
    handle.write(new Uint8Array(bytes), { at: handle.getSize() });
    handle.flush();
  },
  update: async ({ recording, isClosed }: Extract<PieceRequest, { do: 'update' }>) => {
    if (isClosed) {
      open.get(recording.id)?.close();
      open.delete(recording.id);
    }
    await writeFacts(recording);
  },
  list: async ({ personId }: Extract<PieceRequest, { do: 'list' }>) => {
    const folder = await findFolder(personId);
    const found: ListedRecording[] = [];
    for await (const [name, handle] of folder.entries()) {
      if (handle.kind !== 'file' || !name.endsWith('.json')) continue;
      const recording = await readFacts(handle as FileSystemFileHandle);
      const sizeBytes = recording ? await measure(folder, recording.id) : 0;
      if (recording && sizeBytes > 0) found.push({ ...recording, sizeBytes });
    }
    return found;
  },
  read: async ({ recording }: Extract<PieceRequest, { do: 'read' }>) => {
    const folder = await findFolder(recording.personId);
    return (await folder.getFileHandle(`${recording.id}.bin`)).getFile();
  },
  remove: async ({ recording }: Extract<PieceRequest, { do: 'remove' }>) => {
    open.get(recording.id)?.close();
    open.delete(recording.id);
    const folder = await findFolder(recording.personId);
    for (const ending of ['bin', 'json'])
      await folder.removeEntry(`${recording.id}.${ending}`).catch(() => undefined);
  },
};

async function readFacts(handle: FileSystemFileHandle): Promise<KeptRecording | null> {
  try {
    return JSON.parse(await (await handle.getFile()).text()) as KeptRecording;
  } catch {
    // Half written when the browser went away: its pieces are told by nobody.
    return null;
  }
}

async function measure(folder: FileSystemDirectoryHandle, id: string): Promise<number> {
  const running = open.get(id);
  if (running) return running.getSize();
  try {
    return (await (await folder.getFileHandle(`${id}.bin`)).getFile()).size;
  } catch {
    return 0;
  }
}

let last: Promise<unknown> = Promise.resolve();
self.onmessage = ({ data }: MessageEvent<PieceRequest & { readonly call: number }>) => {
  const run = requests[data.do] as (request: PieceRequest) => unknown;
  // One after the other: pieces stay in order.
  last = last
    .then(() => run(data))
    .then(
      (value) => self.postMessage({ call: data.call, value } satisfies PieceAnswer),
      (error: unknown) => self.postMessage({ call: data.call, fault: String(error) } satisfies PieceAnswer),
    );
};
