import { ApodixError, findMediaKind, isStillKind, type ContainerId } from '@apodix/core';
import { sniffFile } from '../inspect/sniff-file.ts';

/** What kind of PDF or picture a file is, where instructions can be read from it; null for anything else. */
export async function findPaper(path: string): Promise<ContainerId | null> {
  try {
    const { container } = await sniffFile(path);
    return isStillKind(findMediaKind(container)) ? container : null;
  } catch (error) {
    if (error instanceof ApodixError) return null;
    throw error;
  }
}
