import { open } from 'node:fs/promises';

/**
 * Whether the index (`moov`) stands before the media (`mdat`) in an ISO base media file (ISO/IEC 14496-12 8.2.1).
 * null where either is missing.
 */
export async function isMoovFirst(path: string): Promise<boolean | null> {
  const handle = await open(path, 'r');
  try {
    const { size: fileSize } = await handle.stat();
    const header = Buffer.alloc(16);
    let moovAt: number | null = null;
    let mdatAt: number | null = null;
    for (let at = 0, count = 0; at + 8 <= fileSize && count < 1000; count += 1) {
      await handle.read(header, 0, 16, at);
      const type = header.toString('latin1', 4, 8);
      const short = header.readUInt32BE(0);
      const size = short === 1 ? Number(header.readBigUInt64BE(8)) : short === 0 ? fileSize - at : short;
      if (type === 'moov') moovAt ??= at;
      if (type === 'mdat') mdatAt ??= at;
      if (size < 8) break;
      at += size;
    }
    return moovAt === null || mdatAt === null ? null : moovAt < mdatAt;
  } finally {
    await handle.close();
  }
}
