/**
 * ISO 8601 with the offset that the file tells: `2026-11-24T10:00:00+01:00`; null where it is no time since
 * 1971.
 */
export function normaliseCaptureTime(raw: string): string | null {
  const match =
    /^(\d{4})[-:](\d{2})[-:](\d{2})[T ](\d{2}:\d{2}:\d{2})(?:\.\d+)?\s*(Z|[+-]\d{2}:?\d{2})?$/.exec(
      raw.trim(),
    );
  if (!match) return null;
  const [, year = '', month = '', day = '', time = '', zone = ''] = match;
  const offset = /^[+-]\d{4}$/.test(zone) ? `${zone.slice(0, 3)}:${zone.slice(3)}` : zone;
  const text = `${year}-${month}-${day}T${time}${offset}`;
  const isTime = !Number.isNaN(new Date(text).getTime());
  return isTime && Number(year) > 1970 ? text : null;
}
