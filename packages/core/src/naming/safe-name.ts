const RESERVED = /^(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])$/i;
/** The longest file name that common file systems take, in bytes of UTF-8. */
const MAX_NAME_BYTES = 255;

/**
 * Makes a name that any file system takes and that cannot mislead: no path parts, control or direction marks,
 * leading dashes or dots, reserved device names (any ending), or more than 255 bytes. Letters of every script
 * and emoji stay. Names from people are data; this is only for the moment when a file is saved or delivered
 * under a name.
 */
export function buildSafeFileName(rawName: string, ending: string): string {
  const stem = rawName
    .normalize('NFC')
    .replace(/[\p{Cc}\p{Cf}\p{Co}\p{Cs}\u2028\u2029]/gu, (sign) => (sign === '\u200d' ? sign : ''))
    .replace(/[/\\:*?"<>|]/g, '_')
    .replace(/^[\s.\-_]+|[\s.]+$/g, '')
    .replace(/\s+/g, ' ');
  const named = stem === '' ? 'file' : stem;
  const safeStem = RESERVED.test(named.split('.')[0]?.trim() ?? '') ? `_${named}` : named;
  const suffix = ending === '' ? '' : `.${ending}`;
  return cutToBytes(safeStem, MAX_NAME_BYTES - suffix.length) + suffix;
}

/** The part of a name before its ending. */
export function readStem(fileName: string): string {
  return fileName.replace(/\.[A-Za-z0-9]{1,5}$/, '');
}

/**
 * A name for showing: control and direction marks made visible as nothing, cut in the middle where it is
 * long.
 */
export function cleanDisplayName(rawName: string, maxLength = 80): string {
  const name = rawName
    .normalize('NFC')
    .replace(/[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069\u2028\u2029]/gu, '');
  const signs = [...name];
  if (signs.length <= maxLength) return name;
  const half = Math.floor((maxLength - 1) / 2);
  return `${signs.slice(0, half).join('')}…${signs.slice(-half).join('')}`;
}

function cutToBytes(text: string, maxBytes: number): string {
  const encoder = new TextEncoder();
  let kept = '';
  let used = 0;
  for (const { segment } of new Intl.Segmenter('en', { granularity: 'grapheme' }).segment(text)) {
    const bytes = encoder.encode(segment).length;
    if (used + bytes > maxBytes) break;
    kept += segment;
    used += bytes;
  }
  return kept;
}
