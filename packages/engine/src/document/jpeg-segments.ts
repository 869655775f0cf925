/**
 * Segments that may hold who, where or with what: APP1 (Exif, XMP), APP13 (IPTC), comments (ITU-T T.81
 * B.2.4).
 */
const PRIVATE = new Set([0xe1, 0xed, 0xfe]);
/** APP2: a color profile, which a PDF says for itself. */
const PROFILE = 0xe2;
const START_OF_SCAN = 0xda;

/**
 * A JPEG without its private segments and, where asked, without its color profile; the coded picture is left
 * as it is.
 */
export function stripJpeg(
  bytes: Uint8Array,
  options: { readonly withoutProfile?: boolean } = {},
): Uint8Array {
  const kept: Uint8Array[] = [bytes.subarray(0, 2)];
  let at = 2;
  while (at + 4 <= bytes.length && bytes[at] === 0xff) {
    const marker = bytes[at + 1] ?? 0;
    if (marker === START_OF_SCAN) break;
    const length = 2 + (((bytes[at + 2] ?? 0) << 8) | (bytes[at + 3] ?? 0));
    if (!PRIVATE.has(marker) && !(options.withoutProfile && marker === PROFILE))
      kept.push(bytes.subarray(at, at + length));
    at += length;
  }
  kept.push(bytes.subarray(at));
  return Buffer.concat(kept);
}

/** Components of a JPEG (1 gray, 3 color, 4 print) from its frame header; null where there is none. */
export function countJpegComponents(bytes: Uint8Array): number | null {
  for (let at = 2; at + 10 <= bytes.length && bytes[at] === 0xff;) {
    const marker = bytes[at + 1] ?? 0;
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      return bytes[at + 9] ?? null;
    if (marker === START_OF_SCAN) return null;
    at += 2 + (((bytes[at + 2] ?? 0) << 8) | (bytes[at + 3] ?? 0));
  }
  return null;
}
