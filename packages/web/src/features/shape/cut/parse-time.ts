/**
 * A typed moment in microseconds: `1:02.5`, `62.5` or `1:01:02`, with a point or a comma. null where it is
 * none.
 */
export function parseTime(words: string): number | null {
  const match = /^\s*(?:(?:(\d{1,2}):)?(\d{1,3}):)?(\d{1,5}(?:[.,]\d{1,6})?)\s*$/.exec(words);
  if (!match) return null;
  const [, hours = '0', minutes, seconds = '0'] = match;
  const value = Number(seconds.replace(',', '.'));
  if (minutes !== undefined && value >= 60) return null;
  return Math.round((Number(hours) * 3600 + Number(minutes ?? 0) * 60 + value) * 1e6);
}
