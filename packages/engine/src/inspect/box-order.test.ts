import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isMoovFirst, measureMdatBytes, readSampleSizes } from './box-order.ts';

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), 'apodix-boxes-'))));
afterAll(async () => rm(folder, { recursive: true, force: true }));

/** A box by ISO/IEC 14496-12 4.2: size, type, content; with a 64-bit size where asked. */
function box(type: string, content: number, options: { isLarge?: boolean; size?: number } = {}): Buffer {
  const head = Buffer.alloc(options.isLarge ? 16 : 8);
  head.writeUInt32BE(options.isLarge ? 1 : (options.size ?? 8 + content), 0);
  head.write(type, 4, 'latin1');
  if (options.isLarge) head.writeBigUInt64BE(BigInt(options.size ?? 16 + content), 8);
  return Buffer.concat([head, Buffer.alloc(content)]);
}
async function write(...boxes: Buffer[]): Promise<string> {
  const path = join(folder, 'file.mp4');
  await writeFile(path, Buffer.concat(boxes));
  return path;
}

describe('the order of boxes', () => {
  it('tells an index before and after the media', async () => {
    expect(await isMoovFirst(await write(box('ftyp', 16), box('moov', 100), box('mdat', 50)))).toBe(true);
    expect(
      await isMoovFirst(await write(box('ftyp', 16), box('free', 8), box('mdat', 50), box('moov', 100))),
    ).toBe(false);
  });
  it('reads sizes of 64 bits, and boxes that run to the end of the file', async () => {
    expect(
      await isMoovFirst(await write(box('ftyp', 16), box('mdat', 50, { isLarge: true }), box('moov', 100))),
    ).toBe(false);
    expect(await isMoovFirst(await write(box('moov', 100), box('mdat', 50, { size: 0 })))).toBe(true);
  });
  it('says nothing where one of them is missing, cut off, or the file is none', async () => {
    expect(await isMoovFirst(await write(box('ftyp', 16), box('mdat', 50)))).toBeNull();
    expect(await isMoovFirst(await write(Buffer.from('moov')))).toBeNull();
    expect(await isMoovFirst(await write(Buffer.alloc(0)))).toBeNull();
    // A size below eight can be no box: nothing behind it is read, and reading ends.
    expect(
      await isMoovFirst(await write(box('ftyp', 0, { size: 3 }), box('moov', 100), box('mdat', 50))),
    ).toBeNull();
  });
});

describe('bytes of the media', () => {
  it('sums all media boxes without their headers', async () => {
    expect(
      await measureMdatBytes(await write(box('ftyp', 16), box('mdat', 50), box('moov', 100), box('mdat', 7))),
    ).toBe(57);
    expect(await measureMdatBytes(await write(box('mdat', 50, { isLarge: true })))).toBe(50);
  });
});

describe('bytes of each sample', () => {
  const wrap = (type: string, ...inside: Buffer[]) => {
    const content = Buffer.concat(inside);
    return Buffer.concat([box(type, 0, { size: 8 + content.length }), content]);
  };
  /** `stsz` by ISO/IEC 14496-12 8.7.3.2: version and flags, the size of all or 0, how many, each size. */
  const table = (same: number, count: number, sizes: readonly number[]) => {
    const content = Buffer.alloc(12 + sizes.length * 4);
    [same, count, ...sizes].forEach((value, index) => content.writeUInt32BE(value, 4 + index * 4));
    return wrap('stsz', content);
  };
  const index = (...tables: Buffer[]) =>
    wrap(
      'moov',
      box('mvhd', 100),
      wrap('trak', box('tkhd', 84), wrap('mdia', wrap('minf', wrap('stbl', box('stts', 16), ...tables)))),
    );

  it('are read in the order of the table, behind other boxes', async () => {
    const path = await write(box('ftyp', 16), box('mdat', 612), index(table(0, 3, [500, 12, 100])));
    expect(await readSampleSizes(path)).toEqual([500, 12, 100]);
  });

  it('are all the same where the table says so', async () => {
    expect(await readSampleSizes(await write(index(table(40, 3, []))))).toEqual([40, 40, 40]);
  });

  it('are not guessed where the table is missing or cut off', async () => {
    await expect(readSampleSizes(await write(box('mdat', 8)))).rejects.toThrow(TypeError);
    await expect(readSampleSizes(await write(index()))).rejects.toThrow(TypeError);
    await expect(readSampleSizes(await write(index(table(0, 3, [500]))))).rejects.toThrow(TypeError);
  });
});
