export const US_PER_S = 1_000_000;

/**
 * Writes microseconds as `2:09.5`, `0:11.40` or `1:02:03`.
 * `decimals` fixes how many places of a second stand (truncated, so that 1:59.999 never reads as 2:00);
 * without it, tenths stand only where they are not zero.
 */
export function formatDuration(durationUs: number, decimals?: number): string {
  const sign = durationUs < 0 ? '−' : '';
  const places = decimals ?? 1;
  const scale = 10 ** places;
  const ticks = Math.floor((Math.abs(durationUs) * scale) / US_PER_S + 1e-9);
  const fraction = ticks % scale;
  const totalSeconds = Math.floor(ticks / scale);
  const seconds = totalSeconds % 60;
  const minutes = Math.floor(totalSeconds / 60) % 60;
  const hours = Math.floor(totalSeconds / 3600);
  const head = hours > 0 ? `${hours}:${String(minutes).padStart(2, '0')}` : String(minutes);
  const showFraction = decimals === undefined ? fraction > 0 : decimals > 0;
  const tail = showFraction ? `.${String(fraction).padStart(places, '0')}` : '';
  return `${sign}${head}:${String(seconds).padStart(2, '0')}${tail}`;
}

/** Writes a span of waiting in words: `9 h`, `2 d 3 h`, `12 min`. */
export function formatWait(durationMs: number): string {
  const minutes = Math.max(0, Math.floor(durationMs / 60_000));
  const days = Math.floor(minutes / 1440);
  const hours = Math.floor((minutes % 1440) / 60);
  if (days >= 4) return `${days} d`;
  if (days > 0) return hours > 0 ? `${days} d ${hours} h` : `${days} d`;
  if (hours > 0) return hours < 4 ? `${hours} h ${minutes % 60} min` : `${hours} h`;
  return `${minutes} min`;
}
