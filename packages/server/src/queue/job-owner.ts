import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';

/** This process, as one that runs jobs: where it runs, and which it is. */
export const OWNER = `${hostname()}-${process.pid}-${randomUUID().slice(0, 8)}`;
/** Between an owner and a job in the name of a folder. */
const FOLDER_PART = '--';

export const nameWorkFolder = (jobId: string) => OWNER + FOLDER_PART + jobId;
export const readFolderOwner = (name: string) => name.split(FOLDER_PART)[0] ?? '';

/** Whether the process of an owner may still be there; of other machines only the lease can tell. */
export function isOwnerAlive(owner: string): boolean {
  if (owner === OWNER) return true;
  const [, host, pid] = /^(.*)-(\d+)-[0-9a-f]{8}$/.exec(owner) ?? [];
  if (host === undefined || pid === undefined) return false;
  if (host !== hostname()) return true;
  // A number that was given to this very process once more is no other server's.
  if (Number(pid) === process.pid) return false;
  try {
    process.kill(Number(pid), 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}
