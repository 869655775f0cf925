import { ApodixError } from '@apodix/core';
import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';

const CHUNK_BYTES = 1 << 20;

/**
 * SHA-256 of a file in lower-case hex, in constant memory: one buffer is read into again and again. Throws
 * `CANCELLED`.
 */
export async function hashFile(path: string, signal?: AbortSignal): Promise<string> {
  const hash = createHash('sha256');
  const buffer = Buffer.allocUnsafe(CHUNK_BYTES);
  const file = await open(path);
  try {
    for (;;) {
      if (signal?.aborted) throw new ApodixError('CANCELLED');
      const { bytesRead } = await file.read(buffer, 0, CHUNK_BYTES);
      if (bytesRead === 0) return hash.digest('hex');
      hash.update(buffer.subarray(0, bytesRead));
    }
  } finally {
    await file.close();
  }
}
