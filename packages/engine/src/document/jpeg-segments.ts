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

const ICC_NAME = 'ICC_PROFILE';
/** Segments that say how the picture is coded: JFIF, color profile, APP14 with its color space. */
const isOfPicture = (marker: number, bytes: Uint8Array, at: number) =>
  marker === 0xe0 ||
  marker === 0xee ||
  (marker === PROFILE &&
    Buffer.from(bytes.subarray(at + 4, at + 4 + ICC_NAME.length)).toString() === ICC_NAME);

/**
 * A JPEG with nothing but its picture: no segment of a camera or program, no comment, and nothing after its
 * end, where phones put films and second pictures. The coded picture stays as it is; `profile` is the segment
 * of a color profile for one that has none. null where it does not end.
 */
export function cleanJpeg(bytes: Uint8Array, profile: Uint8Array | null = null): Uint8Array | null {
  const kept: Uint8Array[] = [bytes.subarray(0, 2)];
  let [at, isTagged] = [2, profile === null];
  const tag = () => {
    if (!isTagged && profile) kept.push(profile);
    isTagged = true;
  };
  while (at + 4 <= bytes.length) {
    if (bytes[at] !== 0xff) return null;
    const marker = bytes[at + 1] ?? 0;
    if (marker === 0xd9) {
      kept.push(bytes.subarray(at, at + 2));
      return Buffer.concat(kept);
    }
    let next = at + 2 + (((bytes[at + 2] ?? 0) << 8) | (bytes[at + 3] ?? 0));
    if (marker === START_OF_SCAN) next = findNextMarker(bytes, next);
    const isTold = (marker >= 0xe0 && marker <= 0xef) || marker === 0xfe;
    // JFIF's own segment comes first.
    if (marker !== 0xe0) tag();
    if (!isTold || isOfPicture(marker, bytes, at)) kept.push(bytes.subarray(at, next));
    at = next;
  }
  const isEnd = bytes[at] === 0xff && bytes[at + 1] === 0xd9;
  return isEnd ? Buffer.concat([...kept, bytes.subarray(at, at + 2)]) : null;
}

/** Where coded data end: at a marker that is neither a stuffed byte nor a restart (ITU-T T.81 B.1.1). */
function findNextMarker(bytes: Uint8Array, from: number): number {
  for (let at = from; at + 1 < bytes.length; at += 1) {
    const next = bytes[at + 1] ?? 0;
    if (bytes[at] === 0xff && next !== 0 && next !== 0xff && (next < 0xd0 || next > 0xd7)) return at;
  }
  return bytes.length;
}

/** The segment with the color profile of a JPEG; null where it has none, or more than one. */
export function findProfileSegment(bytes: Uint8Array): Uint8Array | null {
  const found: Uint8Array[] = [];
  for (let at = 2; at + 4 <= bytes.length && bytes[at] === 0xff && bytes[at + 1] !== START_OF_SCAN;) {
    const next = at + 2 + (((bytes[at + 2] ?? 0) << 8) | (bytes[at + 3] ?? 0));
    if (bytes[at + 1] === PROFILE && isOfPicture(PROFILE, bytes, at)) found.push(bytes.subarray(at, next));
    at = next;
  }
  return found.length === 1 ? (found[0] ?? null) : null;
}
