import { PaperText } from '@apodix/core';
import { fileURLToPath } from 'node:url';
import { runJsonChild } from '../process/run-json-child.ts';

const isSource = import.meta.url.endsWith('.ts');
const childPath = fileURLToPath(
  new URL(isSource ? './paper-child.ts' : '../bundled/paper-child.js', import.meta.url),
);
/**
 * Address space: the recogniser and Node reserve some ten gigabytes each and use little of it. What it runs
 * itself may not be allowed more than it is.
 */
const LIMITS = { seconds: 180, memoryBytes: 256_000_000_000, outputBytes: 4_000_000_000 };
const HEAP_MB = 1536;

/**
 * Reads instructions from a PDF, a photograph or a scan of a printed page, or of a slide (English), in a
 * child process with limits on time and memory. Throws `NOT_PAPER`, `NOTHING_TO_READ`, `TOO_HEAVY`,
 * `CANCELLED`, and what reading a picture throws.
 */
export async function readPaper(path: string, signal?: AbortSignal): Promise<PaperText> {
  return PaperText.parse(
    await runJsonChild({ path: childPath, args: [path], heapMb: HEAP_MB, limits: LIMITS, signal }),
  );
}
