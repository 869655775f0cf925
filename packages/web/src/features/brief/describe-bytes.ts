import { formatExactBytes, type Limit } from '@apodix/core';

/**
 * How a limit in MB was read, where the words could mean 10^6 or 2^20 bytes: the stricter counts. Empty where
 * nothing is open.
 */
export function describeBytes(limit: Limit): string {
  const bytes = limit.kind === 'file-size' || limit.kind === 'total-size' ? limit.maxBytes : null;
  if (bytes === null || !('isAmbiguous' in limit) || !limit.isAmbiguous || limit.isChangedByPerson) return '';
  return `Read as ${formatExactBytes(bytes)}, the stricter of the two meanings.`;
}
