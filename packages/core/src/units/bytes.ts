/**
 * Writes a byte count for people, decimal (1 MB = 10^6 bytes, IEC 80000-13), with three significant figures
 * at most. Rounds towards zero below a limit is not wanted here: the exact count belongs beside it (hover,
 * receipt).
 */
export function formatBytes(sizeBytes: number): string {
  if (sizeBytes < 1000) return `${Math.round(sizeBytes)} B`;
  const units = ['kB', 'MB', 'GB', 'TB'] as const;
  let value = sizeBytes / 1000;
  let index = 0;
  while (value >= 999.5 && index < units.length - 1) {
    value /= 1000;
    index += 1;
  }
  return `${Number(value.toFixed(value >= 99.95 ? 0 : 1))} ${units[index]}`;
}

/** Writes the exact count with thin spaces: `96 412 331 bytes`. */
export function formatExactBytes(sizeBytes: number): string {
  return `${String(Math.round(sizeBytes)).replace(/\B(?=(\d{3})+$)/g, '\u202f')} bytes`;
}
