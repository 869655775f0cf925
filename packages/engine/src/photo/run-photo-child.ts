import { ApodixError, isFaultCode } from '@apodix/core';
import { execa } from 'execa';
import { fileURLToPath } from 'node:url';
import { guardCommand } from '../process/run-tool.ts';
import { PhotoAnswer, type PhotoRequest } from '../still/photo-request.ts';

const isSource = import.meta.url.endsWith('.ts');
const childPath = fileURLToPath(
  new URL(isSource ? './photo-child.ts' : '../bundled/photo-child.js', import.meta.url),
);
const SECONDS = 180;
/**
 * Node reserves far more address space than it uses; what it uses is held by its heap and by the pixels
 * allowed.
 */
const LIMITS = { seconds: SECONDS, memoryBytes: 48_000_000_000, outputBytes: 4_000_000_000 };
const HEAP_MB = 3072;

/**
 * Runs one photograph task in a child process with limits on time and memory; throws the fault that the child
 * tells.
 */
export async function runPhotoChild(request: PhotoRequest, signal?: AbortSignal): Promise<unknown> {
  const nodeArgs = [
    `--max-old-space-size=${HEAP_MB}`,
    ...(isSource ? ['--import', 'tsx', '--conditions=source'] : []),
    childPath,
  ];
  const [file, args] = guardCommand(process.execPath, nodeArgs, LIMITS);
  const result = await execa(file, args, {
    input: JSON.stringify(request),
    reject: false,
    timeout: SECONDS * 1000,
    forceKillAfterDelay: 2000,
    env: { UV_THREADPOOL_SIZE: '4', MALLOC_ARENA_MAX: '2' },
    ...(signal ? { cancelSignal: signal } : {}),
  });
  if (result.isCanceled) throw new ApodixError('CANCELLED');
  if (result.timedOut) throw new ApodixError('TOO_HEAVY');
  const parsed = PhotoAnswer.safeParse(parseJson(result.stdout));
  if (!parsed.success)
    throw new ApodixError(
      result.signal === 'SIGKILL' || /heap out of memory/.test(result.stderr) ? 'TOO_HEAVY' : 'DAMAGED',
      { cause: new Error(`${result.shortMessage ?? ''}\n${result.stderr.slice(-2000)}`) },
    );
  if ('fault' in parsed.data) {
    const { code, detail, trace } = parsed.data.fault;
    throw new ApodixError(isFaultCode(code) ? code : 'DAMAGED', {
      ...(detail === undefined ? {} : { detail }),
      ...(trace === undefined ? {} : { cause: new Error(trace) }),
    });
  }
  return parsed.data.answer;
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}
