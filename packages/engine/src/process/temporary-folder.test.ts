import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { hashFile } from './hash-file.ts';
import { withTemporaryFolder } from './temporary-folder.ts';

let parent: string;
beforeAll(async () => (parent = await mkdtemp(join(tmpdir(), 'apodix-parent-'))));
afterAll(async () => rm(parent, { recursive: true, force: true }));

it('leaves nothing behind, whether the work ends well or badly', async () => {
  const work = async (fails: boolean) =>
    withTemporaryFolder(parent, async (folder) => {
      await writeFile(join(folder, 'half'), 'x');
      if (fails) throw new RangeError('no');
      return 7;
    });
  expect(await work(false)).toBe(7);
  await expect(work(true)).rejects.toThrow(RangeError);
  expect(await readdir(parent)).toEqual([]);
});

it('hashes by FIPS 180-4: "abc" and the empty file', async () => {
  const path = join(parent, 'abc');
  await writeFile(path, 'abc');
  expect(await hashFile(path)).toBe('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad');
  await writeFile(path, '');
  expect(await hashFile(path)).toBe('e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855');
  await expect(hashFile(path, AbortSignal.abort())).rejects.toThrow();
});
