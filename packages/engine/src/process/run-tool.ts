import { execa, type ResultPromise } from 'execa';
import { existsSync } from 'node:fs';

/** Ceilings for one child process; each is enforced by the kernel where `prlimit` is there. */
export interface ToolLimits {
  /** Wall-clock seconds before it is ended. */
  readonly seconds: number;
  /** Address space. 6 GB is enough for 2160-line two-pass coding. */
  readonly memoryBytes: number;
  /** Largest file that it may write. */
  readonly outputBytes: number;
}

export interface ToolRun {
  readonly tool: 'ffmpeg' | 'ffprobe' | 'pdftoppm';
  readonly args: readonly string[];
  readonly limits?: Partial<ToolLimits>;
  readonly signal?: AbortSignal;
  /** Each line of stdout as it comes; without it stdout is collected (16 MB at most). */
  readonly onStdoutLine?: (line: string) => void;
  readonly onStderrLine?: (line: string) => void;
  readonly cwd?: string;
  /** How long it may take to end after it was told to, before it is killed. */
  readonly graceMs?: number;
}

/** How a child process ended, well or badly. */
export interface ToolResult {
  readonly command: string;
  readonly durationMs: number;
  readonly exitCode: number | null;
  readonly signal: string | null;
  readonly isCancelled: boolean;
  readonly isTimedOut: boolean;
  readonly stdout: string;
  /** The last lines of stderr. */
  readonly stderrTail: string;
}

const DEFAULT_LIMITS: ToolLimits = { seconds: 3600, memoryBytes: 6_000_000_000, outputBytes: 64_000_000_000 };
const TAIL_LINES = 40;
/** On Linux the child dies with its parent (PDEATHSIG), works at low priority, and is held to its ceilings by the kernel. */
const hasGuards =
  process.platform === 'linux' &&
  ['/usr/bin/setpriv', '/usr/bin/prlimit', '/usr/bin/nice'].every((path) => existsSync(path));

/**
 * Runs a program to its end and tells how it ended; never throws for a bad exit.
 * TERM on cancel or time-out, KILL a little later.
 */
export async function runTool(run: ToolRun): Promise<ToolResult> {
  const limits = { ...DEFAULT_LIMITS, ...run.limits };
  const startedAt = performance.now();
  const [file, args] = guard(run, limits);
  const tail: string[] = [];
  const subprocess: ResultPromise<{ reject: false }> = execa(file, args, {
    reject: false,
    stdin: 'ignore',
    timeout: limits.seconds * 1000,
    forceKillAfterDelay: run.graceMs ?? 800,
    maxBuffer: 16_000_000,
    buffer: { stdout: run.onStdoutLine === undefined, stderr: false },
    env: { AV_LOG_FORCE_NOCOLOR: '1' },
    ...(run.cwd === undefined ? {} : { cwd: run.cwd }),
    ...(run.signal ? { cancelSignal: run.signal } : {}),
  }) as ResultPromise<{ reject: false }>;
  const readErrors = (async () => {
    for await (const line of subprocess.iterable({ from: 'stderr' })) {
      run.onStderrLine?.(String(line));
      tail.push(String(line));
      if (tail.length > TAIL_LINES) tail.shift();
    }
  })().catch(() => undefined);
  const readLines = run.onStdoutLine
    ? (async () => {
        for await (const line of subprocess.iterable({ from: 'stdout' })) run.onStdoutLine?.(String(line));
      })().catch(() => undefined)
    : undefined;
  const result = await subprocess;
  await Promise.all([readErrors, readLines]);
  return {
    command: [run.tool, ...run.args].join(' '),
    durationMs: performance.now() - startedAt,
    exitCode: result.exitCode ?? null,
    signal: result.signal ?? null,
    isCancelled: result.isCanceled,
    isTimedOut: result.timedOut,
    stdout: typeof result.stdout === 'string' ? result.stdout : '',
    stderrTail: tail.join('\n'),
  };
}

function guard(run: ToolRun, limits: ToolLimits): [string, string[]] {
  if (!hasGuards) return [run.tool, [...run.args]];
  const cpuSeconds = Math.ceil(limits.seconds * 4);
  const bounds = [
    `--as=${limits.memoryBytes}`,
    `--fsize=${limits.outputBytes}`,
    `--cpu=${cpuSeconds}`,
    '--core=0',
  ];
  return [
    'setpriv',
    ['--pdeathsig', 'KILL', 'prlimit', ...bounds, 'nice', '-n', '10', run.tool, ...run.args],
  ];
}
