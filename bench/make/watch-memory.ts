import { readdirSync, readFileSync } from 'node:fs';

const EVERY_MS = 500;

/**
 * Watches what the processes that this one starts hold in memory (Linux, proc(5): resident pages that are not
 * shared); `stop` gives the most bytes that all of them together had at once.
 */
export function watchMemory(): { stop(): number } {
  let most = 0;
  const look = () => {
    const parents = new Map<number, number>();
    for (const name of readdirSync('/proc')) {
      const id = Number(name);
      const fields = Number.isInteger(id) ? read(`/proc/${id}/stat`).split(') ')[1]?.split(' ') : undefined;
      if (fields) parents.set(id, Number(fields[1]));
    }
    const isOwn = (id: number): boolean => {
      const parent = parents.get(id);
      return parent !== undefined && (parent === process.pid || isOwn(parent));
    };
    let bytes = 0;
    for (const id of parents.keys()) {
      if (!isOwn(id)) continue;
      const [, resident = '0', shared = '0'] = read(`/proc/${id}/statm`).split(' ');
      bytes += (Number(resident) - Number(shared)) * 4096;
    }
    most = Math.max(most, bytes);
  };
  const timer = setInterval(look, EVERY_MS);
  return {
    stop: () => {
      clearInterval(timer);
      return most;
    },
  };
}

function read(path: string): string {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return '';
  }
}
