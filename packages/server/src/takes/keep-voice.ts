import { ApodixError, SNIFF_BYTES, sniffContainer, type ContainerId } from '@apodix/core';
import { randomUUID } from 'node:crypto';
import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Services } from '../services/services.ts';

/** What browsers record sound in. */
const HEARD: readonly ContainerId[] = ['webm', 'mkv', 'mp4', 'm4a', 'ogg'];

/**
 * Keeps a spoken note as a blob, judged by its bytes; gives its digest, null where there is none. Throws
 * `NOTE_NOT_HEARD` where it is no recording of the kinds that browsers make.
 */
export async function keepVoice(
  dataBase64: string | null,
  { blobs, settings }: Pick<Services, 'blobs' | 'settings'>,
): Promise<string | null> {
  if (dataBase64 === null) return null;
  const bytes = Buffer.from(dataBase64, 'base64');
  const { found } = sniffContainer(bytes.subarray(0, SNIFF_BYTES));
  if (found === null || !HEARD.includes(found)) throw new ApodixError('NOTE_NOT_HEARD');
  const folder = join(settings.APODIX_DATA, 'voices');
  const path = join(folder, randomUUID());
  try {
    await mkdir(folder, { recursive: true });
    await writeFile(path, bytes);
    return (await blobs.adopt(path)).sha256;
  } finally {
    await rm(path, { force: true });
  }
}
