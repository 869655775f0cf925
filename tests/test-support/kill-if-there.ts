/** Whether it was there to be killed: a process may end by itself between the list and the kill. */
export function killIfThere(pid: number): boolean {
  try {
    return process.kill(pid, 'SIGKILL');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ESRCH') return false;
    throw error;
  }
}
