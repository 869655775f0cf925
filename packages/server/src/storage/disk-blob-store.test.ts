import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DiskBlobStore } from './disk-blob-store.ts';

let folder = '';
let store: DiskBlobStore;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-blobs-'));
  store = new DiskBlobStore(join(folder, 'blobs'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const text = 'the same bytes, brought in by many';
const sha256 = createHash('sha256').update(text).digest('hex');
async function write(name: string): Promise<string> {
  const path = join(folder, name);
  await writeFile(path, text);
  return path;
}
const HOUR = 3_600_000;
const nobody = () => Promise.resolve(false);
const age = () => utimes(store.pathOf(sha256), new Date(0), new Date(0));

describe('the same bytes', () => {
  it.each([true, false])(
    'that arrive many times at once are one blob, and nobody loses theirs: kept %s',
    async (isKept) => {
      const paths = await Promise.all(Array.from({ length: 20 }, (_, index) => write(`in-${index}`)));
      // A second store on the same folder is what another process would be.
      const other = new DiskBlobStore(join(folder, 'blobs'));
      const adopted = await Promise.all(
        paths.map((path, index) => (index % 2 ? other : store).adopt(path, { isKept })),
      );
      expect(new Set(adopted.map((each) => each.sha256))).toEqual(new Set([sha256]));
      expect(await store.list()).toEqual([sha256]);
      expect(await readFile(store.pathOf(sha256), 'utf8')).toBe(text);
      for (const path of paths)
        expect(await readFile(path, 'utf8').catch(() => null)).toBe(isKept ? text : null);
    },
  );

  it('adopted again while they are cleared away are there afterwards', async () => {
    for (let round = 0; round < 60; round += 1) {
      await store.adopt(await write('first'));
      await age();
      const again = await write('again');
      await Promise.all([
        store.removeUnused(sha256, HOUR, nobody),
        store.adopt(again),
        store.removeUnused(sha256, HOUR, nobody),
      ]);
      expect(await store.has(sha256)).toBe(true);
    }
  });
});

describe('clearing away', () => {
  it('takes what is old and unused, and nothing that is young or used', async () => {
    await store.adopt(await write('in'));
    expect(await store.removeUnused(sha256, HOUR, nobody)).toBe(false);
    await age();
    expect(await store.removeUnused(sha256, HOUR, () => Promise.resolve(true))).toBe(false);
    expect(await store.has(sha256)).toBe(true);
    expect(await store.removeUnused(sha256, HOUR, nobody)).toBe(true);
    expect(await store.list()).toEqual([]);
  });
});
