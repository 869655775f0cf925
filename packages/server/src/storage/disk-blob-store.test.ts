import { mkdtemp, rm, utimes } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe } from 'vitest';
import { describeBlobStore } from '../test-support/describe-blob-store.ts';
import { DiskBlobStore } from './disk-blob-store.ts';

let folder = '';
let store: DiskBlobStore;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-blobs-'));
  store = new DiskBlobStore(join(folder, 'blobs'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

describe('blobs on a disk', () =>
  describeBlobStore(() => ({
    store,
    other: new DiskBlobStore(join(folder, 'blobs')),
    folder,
    age: (sha256) => utimes(store.pathOf(sha256), new Date(0), new Date(0)),
  })));
