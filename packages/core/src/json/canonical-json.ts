/**
 * Writes JSON in one form only, so that it can be signed: members sorted by UTF-16 code units, no white
 * space, numbers and strings as ECMAScript writes them (RFC 8785, JSON Canonicalization Scheme). Refuses what
 * JSON cannot hold.
 */
export function writeCanonicalJson(value: unknown): string {
  if (value === null || typeof value === 'boolean' || typeof value === 'string') return JSON.stringify(value);
  if (typeof value === 'number') {
    if (!Number.isFinite(value)) throw new TypeError('JSON holds finite numbers only.');
    return JSON.stringify(value);
  }
  if (Array.isArray(value)) return `[${value.map(writeCanonicalJson).join(',')}]`;
  if (typeof value === 'object') {
    const members = Object.entries(value as Record<string, unknown>)
      .filter(([, member]) => member !== undefined)
      .sort(([left], [right]) => (left < right ? -1 : left > right ? 1 : 0))
      .map(([name, member]) => `${JSON.stringify(name)}:${writeCanonicalJson(member)}`);
    return `{${members.join(',')}}`;
  }
  throw new TypeError(`JSON cannot hold a ${typeof value}.`);
}
