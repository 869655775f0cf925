import { open, stat } from 'node:fs/promises';

/**
 * Whether the index (`moov`) stands before the media (`mdat`) in an ISO base media file (ISO/IEC 14496-12
 * 8.2.1). null where either is missing.
 */
export async function isMoovFirst(path: string): Promise<boolean | null> {
  const boxes = await readTopBoxes(path);
  const moov = boxes.find((box) => box.type === 'moov');
  const mdat = boxes.find((box) => box.type === 'mdat');
  return moov && mdat ? moov.at < mdat.at : null;
}

/** Bytes of the media samples of an ISO base media file: its `mdat` boxes without their headers. */
export async function measureMdatBytes(path: string): Promise<number> {
  const boxes = await readTopBoxes(path);
  return boxes.filter((box) => box.type === 'mdat').reduce((sum, box) => sum + box.size - box.headerSize, 0);
}

/**
 * Bytes of each media sample of a file with one track, in decoding order (`stsz`, ISO/IEC 14496-12 8.7.3.2).
 * Throws a `TypeError` where there is no such table.
 */
export async function readSampleSizes(path: string): Promise<number[]> {
  const moov = (await readTopBoxes(path)).find(({ type }) => type === 'moov');
  const table = moov && findInside(await readBox(path, moov), ['trak', 'mdia', 'minf', 'stbl', 'stsz']);
  if (!table || table.length < 12) throw new TypeError('There is no table of sample sizes.');
  const [same, count] = [table.readUInt32BE(4), table.readUInt32BE(8)];
  if (same === 0 && table.length < 12 + count * 4)
    throw new TypeError('The table of sample sizes is cut off.');
  return Array.from({ length: count }, (_, index) => same || table.readUInt32BE(12 + index * 4));
}

/** Whether a file has an index and samples, and every box of it ends inside the file. */
export async function isMp4Whole(path: string): Promise<boolean> {
  const { size } = await stat(path);
  const boxes = await readTopBoxes(path);
  return (
    ['moov', 'mdat'].every((type) => boxes.some((box) => box.type === type)) &&
    boxes.every((box) => box.at + box.size <= size)
  );
}

interface Box {
  readonly type: string;
  readonly at: number;
  readonly size: number;
  readonly headerSize: number;
}

async function readTopBoxes(path: string): Promise<Box[]> {
  const handle = await open(path, 'r');
  try {
    const { size: fileSize } = await handle.stat();
    const header = Buffer.alloc(16);
    const boxes: Box[] = [];
    for (let at = 0; at + 8 <= fileSize && boxes.length < 1000;) {
      await handle.read(header, 0, 16, at);
      const short = header.readUInt32BE(0);
      const size = short === 1 ? Number(header.readBigUInt64BE(8)) : short === 0 ? fileSize - at : short;
      boxes.push({ type: header.toString('latin1', 4, 8), at, size, headerSize: short === 1 ? 16 : 8 });
      if (size < 8) break;
      at += size;
    }
    return boxes;
  } finally {
    await handle.close();
  }
}

async function readBox(path: string, { at, size, headerSize }: Box): Promise<Buffer> {
  const handle = await open(path, 'r');
  try {
    const content = Buffer.alloc(size - headerSize);
    const { bytesRead } = await handle.read(content, 0, content.length, at + headerSize);
    return content.subarray(0, bytesRead);
  } finally {
    await handle.close();
  }
}

/** The content of the first box along a path of nested ones; null where one of them is missing. */
function findInside(content: Buffer, [wanted, ...deeper]: readonly string[]): Buffer | null {
  if (wanted === undefined) return content;
  for (let at = 0; at + 8 <= content.length;) {
    const size = content.readUInt32BE(at);
    if (content.toString('latin1', at + 4, at + 8) === wanted)
      return findInside(content.subarray(at + 8, at + size), deeper);
    if (size < 8) break;
    at += size;
  }
  return null;
}
