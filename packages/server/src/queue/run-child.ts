import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { END_BY_ITSELF, WorkerMessage, type WorkerTask } from '../worker/messages.ts';

/** How a child ended: by what it said last, or without a word. */
export type ChildEnd = Exclude<WorkerMessage, { type: 'progress' | 'early' }> | { readonly type: 'lost' };
type Progress = Extract<WorkerMessage, { type: 'progress' }>;

export interface ChildCallbacks {
  readonly onProgress: (progress: Progress) => void;
  readonly onEarly: (result: unknown) => void;
  readonly onMalformed: (error: Error) => void;
}

/** A task under way in a process of its own. */
export interface RunningChild {
  /** Never rejects: a child that could not be started is lost. */
  readonly end: Promise<ChildEnd>;
  kill(signal: 'SIGTERM' | 'SIGKILL'): void;
  /** Asks it to end by itself, in its own time. */
  ask(): void;
}

export type RunChild = (task: WorkerTask, callbacks: ChildCallbacks) => RunningChild;

const isSource = import.meta.url.endsWith('.ts');
const childPath = fileURLToPath(
  new URL(isSource ? '../worker/job-child.ts' : '../worker/job-child.js', import.meta.url),
);

export const runChild: RunChild = (task, callbacks) => {
  const child = fork(childPath, {
    execArgv: isSource ? ['--import', 'tsx', '--conditions=source'] : [],
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  let said: ChildEnd = { type: 'lost' };
  child.on('message', (raw) => {
    const parsed = WorkerMessage.safeParse(raw);
    if (!parsed.success) callbacks.onMalformed(parsed.error);
    else if (parsed.data.type === 'progress') callbacks.onProgress(parsed.data);
    else if (parsed.data.type === 'early') callbacks.onEarly(parsed.data.result);
    else said = parsed.data;
  });
  const end = new Promise<ChildEnd>((resolve) => {
    // Where no process could be started there is none that could exit.
    child.once('error', () => (child.pid === undefined ? resolve(said) : child.kill('SIGKILL')));
    child.once('exit', () => resolve(said));
  });
  child.send(task, (error) => {
    if (error) child.kill('SIGKILL');
  });
  return {
    end,
    kill: (signal) => void child.kill(signal),
    ask: () => void child.send(END_BY_ITSELF, () => undefined),
  };
};
