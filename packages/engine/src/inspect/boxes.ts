import { open, type FileHandle } from 'node:fs/promises';

/** A box of an ISO base media file (ISO/IEC 14496-12 4.2): where it begins, its bytes with its header. */
export interface Box {
  readonly type: string;
  readonly at: number;
  readonly size: number;
  readonly headerSize: number;
}

const MOST_BOXES = 1000;

/** The boxes that a file consists of, in order; the last may end outside it where it was cut off. */
export async function readTopBoxes(path: string): Promise<Box[]> {
  return withFile(path, listTopBoxes);
}

/** The bytes of the first box of this type that a file consists of, with its header; null without one. */
export async function readTopBox(
  path: string,
  type: string,
): Promise<{ readonly at: number; readonly bytes: Buffer } | null> {
  return withFile(path, async (handle) => {
    const box = (await listTopBoxes(handle)).find((each) => each.type === type);
    if (!box) return null;
    // A size may be told that no file has.
    const bytes = Buffer.alloc(Math.min(box.size, (await handle.stat()).size - box.at));
    const { bytesRead } = await handle.read(bytes, 0, bytes.length, box.at);
    return { at: box.at, bytes: bytes.subarray(0, bytesRead) };
  });
}

/** Bytes before the boxes inside; what is named here has more than its header there. */
const HEADER_BYTES: Readonly<Record<string, number>> = { stsd: 16, avc1: 86 };

/**
 * Where nested boxes lie within bytes, from the outermost to the first innermost that is reached along this
 * path; null where there is none.
 */
export function findNested(
  bytes: Buffer,
  path: readonly string[],
  from = 0,
  to = bytes.length,
): readonly Pick<Box, 'at' | 'size'>[] | null {
  const [name, ...deeper] = path;
  if (name === undefined) return [];
  for (let at = from; at + 8 <= to;) {
    const size = bytes.readUInt32BE(at);
    if (size < 8 || at + size > to) return null;
    if (bytes.toString('latin1', at + 4, at + 8) === name) {
      const inside = findNested(bytes, deeper, at + (HEADER_BYTES[name] ?? 8), at + size);
      if (inside) return [{ at, size }, ...inside];
    }
    at += size;
  }
  return null;
}

async function listTopBoxes(handle: FileHandle): Promise<Box[]> {
  const { size: fileSize } = await handle.stat();
  const header = Buffer.alloc(16);
  const boxes: Box[] = [];
  for (let at = 0; at + 8 <= fileSize && boxes.length < MOST_BOXES;) {
    await handle.read(header, 0, 16, at);
    const short = header.readUInt32BE(0);
    const size = short === 1 ? Number(header.readBigUInt64BE(8)) : short === 0 ? fileSize - at : short;
    boxes.push({ type: header.toString('latin1', 4, 8), at, size, headerSize: short === 1 ? 16 : 8 });
    if (size < 8) break;
    at += size;
  }
  return boxes;
}

async function withFile<T>(path: string, read: (handle: FileHandle) => Promise<T>): Promise<T> {
  const handle = await open(path, 'r');
  try {
    return await read(handle);
  } finally {
    await handle.close();
  }
}
