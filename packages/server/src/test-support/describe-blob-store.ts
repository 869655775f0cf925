import { createHash } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { BlobStore } from '../storage/blob-store.ts';

export interface BlobStoreUnderTest {
  readonly store: BlobStore;
  /** A second one on the same bytes, as another process would have. */
  readonly other: BlobStore;
  /** Where files that are to be adopted can be written. */
  readonly folder: string;
  /** Makes a blob look as if it had been adopted long ago. */
  age(sha256: string): Promise<void>;
}

const HOUR = 3_600_000;
const text = 'the same bytes, brought in by many';
const sha256 = createHash('sha256').update(text).digest('hex');
const nobody = () => Promise.resolve(false);

/** What every adapter of `BlobStore` has to do. */
export function describeBlobStore(open: () => BlobStoreUnderTest): void {
  const write = async (name: string): Promise<string> => {
    const path = join(open().folder, name);
    await writeFile(path, text);
    return path;
  };

  describe('the same bytes', () => {
    it.each([true, false])(
      'that arrive many times at once are one blob, and nobody loses theirs: kept %s',
      async (isKept) => {
        const { store, other } = open();
        const paths = await Promise.all(Array.from({ length: 20 }, (_, index) => write(`in-${index}`)));
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
      const { store, age } = open();
      for (let round = 0; round < 60; round += 1) {
        await store.adopt(await write('first'));
        await age(sha256);
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
      const { store, age } = open();
      await store.adopt(await write('in'));
      expect(await store.removeUnused(sha256, HOUR, nobody)).toBe(false);
      await age(sha256);
      expect(await store.removeUnused(sha256, HOUR, () => Promise.resolve(true))).toBe(false);
      expect(await store.has(sha256)).toBe(true);
      expect(await store.removeUnused(sha256, HOUR, nobody)).toBe(true);
      expect(await store.list()).toEqual([]);
      expect(await store.removeUnused(sha256, HOUR, nobody)).toBe(false);
    });
  });

  it('knows nothing by a name that is no digest', () =>
    expect(() => open().store.pathOf('../apodix.sqlite')).toThrow(TypeError));
}
