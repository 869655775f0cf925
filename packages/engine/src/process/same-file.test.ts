import { link, mkdir, mkdtemp, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { isSameFile } from './same-file.ts';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-same-'));
  await mkdir(join(folder, 'takes'));
  await writeFile(join(folder, 'takes', 'take.mp4'), 'take');
  await writeFile(join(folder, 'takes', 'other.mp4'), 'take');
  await symlink(join(folder, 'takes'), join(folder, 'out'));
  await symlink(join(folder, 'takes', 'take.mp4'), join(folder, 'link.mp4'));
  await link(join(folder, 'takes', 'take.mp4'), join(folder, 'second-name.mp4'));
});
afterAll(async () => rm(folder, { recursive: true, force: true }));

it.each([
  ['its own name', 'takes/take.mp4', true],
  ['a folder that leads to its own', 'out/take.mp4', true],
  ['a way round', 'takes/../takes/take.mp4', true],
  ['a link to it', 'link.mp4', true],
  ['its second name', 'second-name.mp4', true],
  ['another file with the same bytes', 'out/other.mp4', false],
  ['a file that is not there yet', 'out/made.mp4', false],
  ['a folder that is not there yet', 'new/take.mp4', false],
])('knows a recording by %s', async (_name, output, isSame) => {
  expect(await isSameFile(join(folder, output), join(folder, 'takes', 'take.mp4'))).toBe(isSame);
});
