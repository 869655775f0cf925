import { execa } from 'execa';
import { mkdir, mkdtemp, readdir, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { hashFile } from './hash-file.ts';
import { removeAbandonedFolders, withTemporaryFolder } from './temporary-folder.ts';

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

it('removes what a killed process left behind, and nothing else', async () => {
  const killed = execa('sleep', ['60'], { reject: false });
  const killedId = String(killed.pid);
  await withTemporaryFolder(parent, async (own) => {
    const left = own.replace(`-${process.pid}-`, `-${killedId}-`);
    await mkdir(join(left, 'deep'), { recursive: true });
    await mkdir(join(parent, 'apodix-notes'));
    await removeAbandonedFolders(parent);
    expect(await readdir(parent)).toHaveLength(3);
    killed.kill('SIGKILL');
    await killed;
    // That of another machine, which may well be at work.
    const elsewhere = left.replace(/apodix-[0-9a-f]+/, 'apodix-00000000');
    await rename(left, elsewhere);
    await removeAbandonedFolders(parent);
    expect(await readdir(parent)).toHaveLength(3);
    await rename(elsewhere, left);
    await removeAbandonedFolders(parent);
    expect((await readdir(parent)).map((name) => join(parent, name)).sort()).toEqual(
      [own, join(parent, 'apodix-notes')].sort(),
    );
  });
  await rm(join(parent, 'apodix-notes'), { recursive: true });
});

it('hashes by FIPS 180-4: "abc" and the empty file', async () => {
  const path = join(parent, 'abc');
  await writeFile(path, 'abc');
  expect(await hashFile(path)).toBe('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad');
  await writeFile(path, '');
  expect(await hashFile(path)).toBe('e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855');
  await expect(hashFile(path, AbortSignal.abort())).rejects.toThrow();
});
