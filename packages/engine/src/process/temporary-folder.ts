import { createHash } from 'node:crypto';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';

/** Machines can share a folder for temporary files, but not the numbers of their processes. */
const machine = createHash('sha256').update(hostname()).digest('hex').slice(0, 8);
const swept = new Set<string>();

/**
 * Gives the work a folder of its own inside `parent` and removes it afterwards, however the work ends.
 * Folders of processes that were killed, and so could not remove theirs, go at a process's first use of
 * `parent`.
 */
export async function withTemporaryFolder<T>(
  parent: string,
  work: (folder: string) => Promise<T>,
): Promise<T> {
  if (!swept.has(parent)) {
    swept.add(parent);
    await removeAbandonedFolders(parent);
  }
  const folder = await mkdtemp(join(parent, `.apodix-${machine}-${process.pid}-`));
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Removes the temporary folders in `parent` whose process on this machine has ended. */
export async function removeAbandonedFolders(parent: string): Promise<void> {
  const form = new RegExp(`^\\.apodix-${machine}-(\\d+)-`);
  for (const name of await readdir(parent).catch((): string[] => [])) {
    const owner = form.exec(name)?.[1];
    if (owner === undefined || isRunning(Number(owner))) continue;
    // Somebody else's that must stay is no reason not to work.
    await rm(join(parent, name), { recursive: true, force: true }).catch(() => undefined);
  }
}

function isRunning(processId: number): boolean {
  try {
    process.kill(processId, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code !== 'ESRCH';
  }
}
