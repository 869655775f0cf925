import { DatabasePieceStore } from './database-piece-store.ts';
import { PrivateFileStore } from './private-file-store.ts';
import type { PieceStore } from './piece-store.ts';

let store: PieceStore | null = null;

/** The place for recordings in this browser: its private file system, else its database. */
export function openPieceStore(): PieceStore {
  store ??= hasPrivateFiles()
    ? new PrivateFileStore(
        new Worker(new URL('./private-files.worker.ts', import.meta.url), { type: 'module' }),
      )
    : new DatabasePieceStore(indexedDB);
  return store;
}

const hasPrivateFiles = () =>
  typeof navigator.storage?.getDirectory === 'function' && typeof FileSystemFileHandle === 'function';
