import { ApodixError } from '@apodix/core';

/** Throws `CANCELLED` where the signal has fired. */
export function throwIfCancelled(signal: AbortSignal | undefined): void {
  if (signal?.aborted) throw new ApodixError('CANCELLED');
}
