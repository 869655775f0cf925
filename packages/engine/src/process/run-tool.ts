import { ApodixError, type FaultCode } from '@apodix/core';
import { execa, type ResultPromise } from 'execa';
import { existsSync } from 'node:fs';
import type { Readable } from 'node:stream';

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
  readonly tool: 'ffmpeg' | 'ffprobe' | 'pdftoppm' | 'pdftotext';
  readonly args: readonly string[];
  /**
   * The fault that a bad end is where nothing else explains it; null where the caller judges the end itself.
   */
  readonly fault: FaultCode | null;
  readonly limits?: Partial<ToolLimits>;
  readonly signal?: AbortSignal;
  /** Each line of stdout as it comes; without it stdout is collected (16 MB at most). */
  readonly onStdoutLine?: (line: string) => void;
  readonly onStderrLine?: (line: string) => void;
  /** Readers of further pipes, from `pipe:3` on. */
  readonly pipes?: readonly ((data: Buffer) => void)[];
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
  /** The program itself is not on this machine. */
  readonly isMissing: boolean;
  readonly stdout: string;
  /** The last lines of stderr. */
  readonly stderrTail: string;
}

const DEFAULT_LIMITS: ToolLimits = {
  seconds: 3600,
  memoryBytes: 6_000_000_000,
  outputBytes: 64_000_000_000,
};
const TAIL_LINES = 40;
const FIRST_PIPE = 3;
const NOT_FOUND = 127;
/**
 * On Linux the child dies with its parent (PDEATHSIG), works at low priority, and is held to its ceilings by
 * the kernel.
 */
const hasGuards =
  process.platform === 'linux' &&
  ['/usr/bin/setpriv', '/usr/bin/prlimit', '/usr/bin/nice'].every((path) => existsSync(path));

/**
 * Runs a program to its end and tells how it ended. Throws the fault that a person is told where it ended
 * badly and `fault` says which; with `fault: null` every end is given back. TERM on cancel or time-out, KILL
 * a little later.
 */
export async function runTool(run: ToolRun): Promise<ToolResult> {
  const limits = { ...DEFAULT_LIMITS, ...run.limits };
  const startedAt = performance.now();
  const [file, args] = guardCommand(run.tool, run.args, limits);
  const tail: string[] = [];
  const pipes = run.pipes ?? [];
  const subprocess = execa(file, args, {
    reject: false,
    stdio: ['ignore', 'pipe', 'pipe', ...pipes.map(() => 'pipe' as const)],
    timeout: limits.seconds * 1000,
    forceKillAfterDelay: run.graceMs ?? 800,
    maxBuffer: 16_000_000,
    buffer: {
      stdout: run.onStdoutLine === undefined,
      stderr: false,
      ...Object.fromEntries(pipes.map((_, index) => [`fd${FIRST_PIPE + index}`, false])),
    },
    env: { AV_LOG_FORCE_NOCOLOR: '1' },
    ...(run.cwd === undefined ? {} : { cwd: run.cwd }),
    ...(run.signal ? { cancelSignal: run.signal } : {}),
  } as never) as unknown as ResultPromise<{ reject: false }>;
  const readLines = async (from: 'stderr' | 'stdout', onLine: (line: string) => void) => {
    for await (const line of subprocess.iterable({ from })) onLine(String(line));
  };
  // What cannot be read any more ends with the child itself, whose end is told below.
  const reading = [
    readLines('stderr', (line) => {
      run.onStderrLine?.(line);
      tail.push(line);
      if (tail.length > TAIL_LINES) tail.shift();
    }),
    ...(run.onStdoutLine ? [readLines('stdout', run.onStdoutLine)] : []),
    ...pipes.map((onData, index) => readPipe(subprocess.stdio[FIRST_PIPE + index] as Readable, onData)),
  ].map((each) => each.catch(() => undefined));
  const result = await subprocess;
  await Promise.all(reading);
  const stderrTail = tail.join('\n');
  const ended: ToolResult = {
    command: [run.tool, ...run.args].join(' '),
    durationMs: performance.now() - startedAt,
    exitCode: result.exitCode ?? null,
    signal: result.signal ?? null,
    isCancelled: result.isCanceled,
    isTimedOut: result.timedOut,
    isMissing: isProgramMissing(result as { code?: unknown; exitCode?: number }, stderrTail, run.tool),
    stdout: typeof result.stdout === 'string' ? result.stdout : '',
    stderrTail,
  };
  if (run.fault !== null && ended.exitCode !== 0) throw buildToolFault(ended, run.fault);
  return ended;
}

async function readPipe(stream: Readable, onData: (data: Buffer) => void): Promise<void> {
  for await (const data of stream as AsyncIterable<Buffer>) onData(data);
}

function isProgramMissing(
  result: { readonly code?: unknown; readonly exitCode?: number },
  stderrTail: string,
  tool: string,
): boolean {
  if (result.code === 'ENOENT') return true;
  // A file may be called like this message, so the exit code has to agree (POSIX `nice`: 127, not found).
  return (
    result.exitCode === NOT_FOUND && new RegExp(`^\\S*nice: .?${tool}.?: No such file`, 'm').test(stderrTail)
  );
}

/** Turns a bad end of a child process into the fault that a person is told. */
export function buildToolFault(result: ToolResult, otherwise: FaultCode): ApodixError {
  if (result.isCancelled) return new ApodixError('CANCELLED');
  const cause = new Error(
    `${result.command} ended with ${result.signal ?? result.exitCode}\n${result.stderrTail}`,
  );
  if (result.isMissing) return new ApodixError('TOOL_MISSING', { cause });
  if (/No space left on device|Disk quota exceeded/i.test(result.stderrTail))
    return new ApodixError('NO_DISK_SPACE', { cause });
  const isOutOfMemory = /Cannot allocate memory|Out of memory/i.test(result.stderrTail);
  if (result.isTimedOut || result.signal === 'SIGXCPU' || isOutOfMemory)
    return new ApodixError('TOO_HEAVY', { cause });
  if (result.signal === 'SIGXFSZ') return new ApodixError('NO_DISK_SPACE', { cause });
  return new ApodixError(otherwise, { cause });
}

/** The command line of a program with its guards; the program alone where this system has none. */
export function guardCommand(
  program: string,
  args: readonly string[],
  limits: ToolLimits,
): [string, string[]] {
  if (!hasGuards) return [program, [...args]];
  const cpuSeconds = Math.ceil(limits.seconds * 4);
  const bounds = [
    `--as=${limits.memoryBytes}`,
    `--fsize=${limits.outputBytes}`,
    `--cpu=${cpuSeconds}`,
    '--core=0',
  ];
  return ['setpriv', ['--pdeathsig', 'KILL', 'prlimit', ...bounds, 'nice', '-n', '10', program, ...args]];
}
