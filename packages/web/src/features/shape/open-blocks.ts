/** A group of frames of an editing copy, and a little more. */
const BLOCK_BYTES = 256 * 1024;
const MOST_BLOCKS = 48;

/**
 * Reads a file on the server in whole blocks, the last of which are kept. Each is asked for with both its
 * ends: an answer that is broken off takes its connection with it, and the next one waits for another.
 */
export function openBlocks(url: string) {
  const blocks = new Map<number, Promise<Uint8Array>>();
  const leaving = new AbortController();
  let size: Promise<number> | null = null;

  async function load(index: number): Promise<Uint8Array> {
    const [start, end] = [index * BLOCK_BYTES, (index + 1) * BLOCK_BYTES - 1];
    const headers = { range: `bytes=${start}-${end}` };
    const answer = await fetch(url, { headers, signal: leaving.signal });
    if (answer.status !== 206) throw new Error(`The film was answered with ${answer.status}.`);
    return new Uint8Array(await answer.arrayBuffer());
  }
  function take(index: number): Promise<Uint8Array> {
    const known = blocks.get(index);
    const block = known ?? load(index);
    // What was asked for last is kept longest.
    blocks.delete(index);
    blocks.set(index, block);
    block.catch(() => blocks.delete(index));
    for (const oldest of blocks.keys()) {
      if (blocks.size <= MOST_BLOCKS) break;
      blocks.delete(oldest);
    }
    return block;
  }
  async function readSize(): Promise<number> {
    const answer = await fetch(url, { headers: { range: 'bytes=0-0' }, signal: leaving.signal });
    const told = Number(/\/(\d+)$/.exec(answer.headers.get('content-range') ?? '')?.[1]);
    if (answer.status !== 206 || !Number.isFinite(told)) throw new Error('The film cannot be read in parts.');
    return told;
  }
  return {
    getSize: () => (size ??= readSize()),
    read: async (start: number, end: number): Promise<Uint8Array> => {
      const [first, last] = [Math.floor(start / BLOCK_BYTES), Math.floor((end - 1) / BLOCK_BYTES)];
      const parts = await Promise.all(Array.from({ length: last - first + 1 }, (_, at) => take(first + at)));
      const made = new Uint8Array(end - start);
      parts.forEach((part, at) => {
        const from = (first + at) * BLOCK_BYTES;
        made.set(part.subarray(Math.max(0, start - from), end - from), Math.max(0, from - start));
      });
      return made;
    },
    dispose: () => leaving.abort(),
  };
}
