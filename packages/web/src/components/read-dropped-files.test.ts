import { describe, expect, it } from 'vitest';
import { readDroppedFiles } from './read-dropped-files.ts';

const file = (name: string) => new File([name], name);
const fileEntry = (name: string) => ({
  name,
  isFile: true,
  file: (done: (file: File) => void) => done(file(name)),
});
/** A folder that tells two entries at a time. */
const folderEntry = (name: string, children: readonly { name: string }[]) => ({
  name,
  isFile: false,
  createReader: () => {
    const left = [...children];
    return { readEntries: (done: (some: unknown[]) => void) => done(left.splice(0, 2)) };
  },
});
const transfer = (entries: readonly unknown[], files: readonly File[] = []) =>
  ({ items: entries.map((entry) => ({ webkitGetAsEntry: () => entry })), files }) as unknown as DataTransfer;
const names = async (of: DataTransfer) => (await readDroppedFiles(of)).map((each) => each.name);

describe('what is dropped', () => {
  it('files as they are', async () => {
    expect(await names(transfer([fileEntry('b.jpg')], [file('b.jpg')]))).toEqual(['b.jpg']);
  });
  it('folders with all that is in them, by name, without what systems leave there', async () => {
    const inner = folderEntry('more', [fileEntry('deep.mov')]);
    const folder = folderEntry('takes', [
      fileEntry('IMG_10.jpg'),
      fileEntry('IMG_9.jpg'),
      fileEntry('.DS_Store'),
      inner,
      fileEntry('IMG_11.jpg'),
    ]);
    expect(await names(transfer([folder, fileEntry('loose.mp3')]))).toEqual([
      'IMG_9.jpg',
      'IMG_10.jpg',
      'IMG_11.jpg',
      'deep.mov',
      'loose.mp3',
    ]);
  });
  it('what is pasted has no entries', async () => {
    expect(await names(transfer([null], [file('pasted.png')]))).toEqual(['pasted.png']);
  });
});
