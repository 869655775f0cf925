import { fileURLToPath } from 'node:url';
import { runJsonChild } from '../process/run-json-child.ts';
import type { PhotoRequest } from '../still/photo-request.ts';

const isSource = import.meta.url.endsWith('.ts');
const childPath = fileURLToPath(
  new URL(isSource ? './photo-child.ts' : '../bundled/photo-child.js', import.meta.url),
);
/**
 * Node reserves far more address space than it uses; what it uses is held by its heap and by the pixels
 * allowed.
 */
const LIMITS = { seconds: 180, memoryBytes: 48_000_000_000, outputBytes: 4_000_000_000 };
const HEAP_MB = 3072;

/**
 * Runs one photograph task in a child process with limits on time and memory; throws the fault that the child
 * tells.
 */
export const runPhotoChild = (request: PhotoRequest, signal?: AbortSignal): Promise<unknown> =>
  runJsonChild({
    path: childPath,
    input: request,
    heapMb: HEAP_MB,
    limits: LIMITS,
    env: { UV_THREADPOOL_SIZE: '4', MALLOC_ARENA_MAX: '2' },
    signal,
  });
