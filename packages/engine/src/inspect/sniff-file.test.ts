import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { sniffFile } from './sniff-file.ts';

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), 'apodix-sniff-'))));
afterAll(async () => rm(folder, { recursive: true, force: true }));

const cases: readonly [string, Buffer, string][] = [
  ['an empty file', Buffer.alloc(0), 'EMPTY_FILE'],
  ['a text', Buffer.from('Dear Ms Varga, here is my recording.\n'.repeat(20)), 'TEXT_NOT_MEDIA'],
  ['a play list', Buffer.from('#EXTM3U\n#EXT-X-VERSION:3\n#EXTINF:10,\n/etc/passwd\n'), 'PLAYLIST_NOT_MEDIA'],
  [
    'random bytes',
    Buffer.from(Array.from({ length: 600 }, (_, index) => (index * 97 + 31) % 251)),
    'NOT_MEDIA',
  ],
];
it.each(cases)('refuses %s in its own words', async (_, bytes, code) => {
  const path = join(folder, 'take.mp4');
  await writeFile(path, bytes);
  await expect(sniffFile(path)).rejects.toMatchObject({ code });
});

it('goes by the bytes, not by the ending', async () => {
  const path = join(folder, 'picture.mp4');
  await writeFile(path, Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex'));
  expect(await sniffFile(path)).toEqual({ container: 'png', sizeBytes: 16 });
});
