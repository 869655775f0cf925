import { readFileSync } from 'node:fs';

/** Clock ticks a second that Linux counts in, on every machine that Node runs on. */
const TICKS = 100;

/**
 * Processor seconds of this process and of all children that have ended, from /proc/self/stat (proc(5):
 * utime, stime, cutime, cstime).
 */
export function readCpuSeconds(): number {
  const text = readFileSync('/proc/self/stat', 'utf8');
  const fields = text.slice(text.lastIndexOf(')') + 2).split(' ');
  return [11, 12, 13, 14].reduce((sum, index) => sum + Number(fields[index]), 0) / TICKS;
}

/**
 * Seconds of all cores in which something here wanted to compute and the host gave them to others (Linux,
 * proc(5): steal of /proc/stat); 0 on a machine of its own.
 */
export function readStolenSeconds(): number {
  const [, ...fields] = (readFileSync('/proc/stat', 'utf8').split('\n')[0] ?? '').split(/ +/);
  return Number(fields[7] ?? 0) / TICKS;
}

export async function measureCpuSeconds(work: () => Promise<unknown>): Promise<number> {
  const before = readCpuSeconds();
  await work();
  return readCpuSeconds() - before;
}
