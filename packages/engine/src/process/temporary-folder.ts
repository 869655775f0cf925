import { mkdtemp, rm } from 'node:fs/promises';
import { join } from 'node:path';

/** Gives the work a folder of its own inside `parent` and removes it afterwards, however the work ends. */
export async function withTemporaryFolder<T>(
  parent: string,
  work: (folder: string) => Promise<T>,
): Promise<T> {
  const folder = await mkdtemp(join(parent, '.apodix-'));
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
