import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';

/** SHA-256 of a file in lower-case hex, read as a stream in constant memory. */
export async function hashFile(path: string, signal?: AbortSignal): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path, { highWaterMark: 1 << 20 }), hash, ...(signal ? [{ signal }] : []));
  return hash.digest('hex');
}
