import type { ContainerId } from './containers.ts';

export type SniffResult =
  | { readonly found: ContainerId }
  | { readonly found: null; readonly reason: 'empty' | 'text' | 'playlist' | 'unknown' | 'not-read' };

/** How many bytes from the start of a file `sniffContainer` wants to see. */
export const SNIFF_BYTES = 4096;

/**
 * Tells what a file is from its first bytes alone (never from its name or declared type).
 * `head` is the first `SNIFF_BYTES` bytes, fewer only where the file is shorter.
 * Sources: ISO/IEC 14496-12 4.3 (ftyp), ISO/IEC 13818-1 2.5.3.3 (pack header), RFC 9559 (EBML), RFC 2083,
 * ITU-T T.81 B.1, RIFF, RFC 3533, RFC 9639.
 */
export function sniffContainer(head: Uint8Array): SniffResult {
  if (head.length === 0) return { found: null, reason: 'empty' };
  const bySignature = sniffSignature(head);
  if (bySignature) return { found: bySignature };
  return { found: null, reason: judgeNoMedia(head) };
}

function sniffSignature(head: Uint8Array): ContainerId | null {
  const text = (from: number, length: number) => String.fromCharCode(...head.subarray(from, from + length));
  const starts = (...bytes: number[]) => bytes.every((byte, index) => head[index] === byte);

  if (text(4, 4) === 'ftyp')
    return sniffBrand(text(8, 4), text(16, Math.min(64, Math.max(0, readUint32(head, 0) - 16))));
  if (['moov', 'mdat', 'wide', 'free', 'skip', 'pnot'].includes(text(4, 4)) && isPlausibleBox(head))
    return 'mov';
  if (starts(0x1a, 0x45, 0xdf, 0xa3))
    return text(0, Math.min(64, head.length)).includes('webm') ? 'webm' : 'mkv';
  if (starts(0xff, 0xd8, 0xff)) return 'jpeg';
  if (starts(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'png';
  if (text(0, 4) === 'RIFF' || text(0, 4) === 'RF64') {
    const form = text(8, 4);
    if (form === 'WAVE') return 'wav';
    if (form === 'AVI ') return 'avi';
    if (form === 'WEBP') return 'webp';
    return null;
  }
  if (text(0, 4) === 'FORM' && ['AIFF', 'AIFC'].includes(text(8, 4))) return 'aiff';
  if (text(0, 4) === 'fLaC') return 'flac';
  if (text(0, 4) === 'OggS') return 'ogg';
  if (text(0, 6) === 'GIF87a' || text(0, 6) === 'GIF89a') return 'gif';
  if (text(0, 2) === 'BM' && isBitmapHeader(head)) return 'bmp';
  if (starts(0x00, 0x00, 0x01, 0xba)) return 'mpegps';
  if (starts(0x49, 0x49, 0x2a, 0x00) || starts(0x4d, 0x4d, 0x00, 0x2a)) return 'tiff';
  if (text(0, 5) === '%PDF-') return 'pdf';
  if (text(0, 3) === 'ID3') return 'mp3';
  if (head[0] === 0xff && ((head[1] ?? 0) & 0xf6) === 0xf0) return 'aac';
  if (isMpegAudioFrame(head)) return 'mp3';
  if (head[0] === 0x47 && head[188] === 0x47 && head[376] === 0x47) return 'mpegts';
  if (head[4] === 0x47 && head[196] === 0x47 && head[388] === 0x47) return 'mpegts';
  return null;
}

function sniffBrand(major: string, compatible: string): ContainerId {
  const all = major + compatible;
  if (major === 'qt  ') return 'mov';
  if (/^M4[AB] $/.test(major)) return 'm4a';
  if (/^(avif|avis)$/.test(major)) return 'avif';
  if (/^(heic|heix|heim|heis|hevc|hevx)$/.test(major)) return 'heic';
  if (/^(mif1|msf1)$/.test(major)) return all.includes('avif') ? 'avif' : 'heic';
  return 'mp4';
}

function judgeNoMedia(head: Uint8Array): 'text' | 'playlist' | 'unknown' | 'not-read' {
  const zeroCount = head.reduce((count, byte) => count + (byte === 0 ? 1 : 0), 0);
  const isText =
    zeroCount === 0 &&
    head.every((byte) => byte >= 0x20 || byte === 9 || byte === 10 || byte === 13 || byte === 27);
  if (!isText) return readUint32(head, 0) === 0x3026b275 ? 'not-read' : 'unknown';
  const text = new TextDecoder()
    .decode(head.subarray(0, 2048))
    .replace(/^\uFEFF/, '')
    .trimStart();
  if (/^(#EXTM3U|ffconcat|\[playlist\]|<\?xml[^>]*>\s*<(MPD|asx|smil|playlist)|<(asx|smil|MPD))/i.test(text))
    return 'playlist';
  if (/^(file\s+\S|https?:\/\/|rtmp:|rtsp:)/i.test(text)) return 'playlist';
  return 'text';
}

/** MPEG-1/2 audio frame header (ISO/IEC 11172-3 2.4.1.3): sync, a real layer, bit rate and sampling rate. */
function isMpegAudioFrame(head: Uint8Array): boolean {
  const [first = 0, second = 0, third = 0] = head;
  return (
    first === 0xff &&
    (second & 0xe0) === 0xe0 &&
    (second & 0x18) !== 0x08 &&
    (second & 0x06) !== 0 &&
    third >> 4 !== 15 &&
    (third & 0x0c) !== 0x0c
  );
}

/** After `BM`, size and two reserved words: where the points begin, and the length of the second header. */
function isBitmapHeader(head: Uint8Array): boolean {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  if (head.length < 26 || view.getUint32(6, true) !== 0) return false;
  const [offset, header] = [view.getUint32(10, true), view.getUint32(14, true)];
  return [12, 40, 52, 56, 64, 108, 124].includes(header) && offset >= 14 + header && offset < 1_000_000;
}

function isPlausibleBox(head: Uint8Array): boolean {
  const size = readUint32(head, 0);
  return size === 0 || size === 1 || size >= 8;
}

function readUint32(head: Uint8Array, at: number): number {
  return (
    (((head[at] ?? 0) << 24) |
      ((head[at + 1] ?? 0) << 16) |
      ((head[at + 2] ?? 0) << 8) |
      (head[at + 3] ?? 0)) >>>
    0
  );
}
