import { ApodixError, type FaultCode } from '@apodix/core';
import type { ToolResult } from './run-tool.ts';

/** Turns a bad end of a child process into the fault that a person is told. */
export function buildToolFault(result: ToolResult, otherwise: FaultCode): ApodixError {
  if (result.isCancelled) return new ApodixError('CANCELLED');
  const cause = new Error(
    `${result.command} ended with ${result.signal ?? result.exitCode}\n${result.stderrTail}`,
  );
  if (/No space left on device|Disk quota exceeded/i.test(result.stderrTail))
    return new ApodixError('NO_DISK_SPACE', { cause });
  if (
    result.isTimedOut ||
    result.signal === 'SIGXCPU' ||
    /Cannot allocate memory|Out of memory/i.test(result.stderrTail)
  )
    return new ApodixError('TOO_HEAVY', { cause });
  if (result.signal === 'SIGXFSZ') return new ApodixError('NO_DISK_SPACE', { cause });
  return new ApodixError(otherwise, { cause });
}

/** Throws `CANCELLED` where the signal has fired. */
export function throwIfCancelled(signal: AbortSignal | undefined): void {
  if (signal?.aborted) throw new ApodixError('CANCELLED');
}
