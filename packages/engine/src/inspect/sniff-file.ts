import { ApodixError, SNIFF_BYTES, sniffContainer, type ContainerId, type FaultCode } from '@apodix/core';
import { open } from 'node:fs/promises';

const FAULT_OF_REASON = {
  empty: 'EMPTY_FILE',
  text: 'TEXT_NOT_MEDIA',
  playlist: 'PLAYLIST_NOT_MEDIA',
  unknown: 'NOT_MEDIA',
  'not-read': 'FORMAT_NOT_READ',
} as const satisfies Record<string, FaultCode>;

/** Tells what a file is by its first bytes; throws the fault that a person is told where it is no media. */
export async function sniffFile(path: string): Promise<{ container: ContainerId; sizeBytes: number }> {
  const handle = await open(path, 'r');
  try {
    const { size } = await handle.stat();
    const head = new Uint8Array(Math.min(SNIFF_BYTES, size));
    if (head.length > 0) await handle.read(head, 0, head.length, 0);
    const result = sniffContainer(head);
    if (result.found === null) throw new ApodixError(FAULT_OF_REASON[result.reason]);
    return { container: result.found, sizeBytes: size };
  } finally {
    await handle.close();
  }
}
