import { ApodixError, isFaultCode } from '@apodix/core';
import { execa } from 'execa';
import { ChildAnswer } from './child-answer.ts';
import { guardCommand, type ToolLimits } from './run-tool.ts';

export interface JsonChild {
  /** The file that it runs, TypeScript while this package runs as such. */
  readonly path: string;
  readonly args?: readonly string[];
  /** Told to it on standard input as JSON. */
  readonly input?: unknown;
  readonly heapMb: number;
  readonly limits: ToolLimits;
  readonly env?: Readonly<Record<string, string>>;
  readonly signal?: AbortSignal | undefined;
}

/**
 * Runs a task of our own in a child process with limits on time and memory and gives its answer. Throws the
 * fault that it tells, `CANCELLED`, `TOO_HEAVY` where it used too much, else `DAMAGED`.
 */
export async function runJsonChild(child: JsonChild): Promise<unknown> {
  const isSource = child.path.endsWith('.ts');
  const nodeArgs = [
    `--max-old-space-size=${child.heapMb}`,
    ...(isSource ? ['--import', 'tsx', '--conditions=source'] : []),
    child.path,
    ...(child.args ?? []),
  ];
  const [file, args] = guardCommand(process.execPath, nodeArgs, child.limits);
  const result = await execa(file, args, {
    input: child.input === undefined ? '' : JSON.stringify(child.input),
    reject: false,
    timeout: child.limits.seconds * 1000,
    forceKillAfterDelay: 2000,
    ...(child.env ? { env: child.env } : {}),
    ...(child.signal ? { cancelSignal: child.signal } : {}),
  });
  if (result.isCanceled) throw new ApodixError('CANCELLED');
  if (result.timedOut) throw new ApodixError('TOO_HEAVY');
  const parsed = ChildAnswer.safeParse(parseJson(result.stdout));
  if (!parsed.success)
    throw new ApodixError(
      result.signal === 'SIGKILL' || /heap out of memory/.test(result.stderr) ? 'TOO_HEAVY' : 'DAMAGED',
      { cause: new Error(`${result.shortMessage ?? ''}\n${result.stderr.slice(-2000)}`) },
    );
  if ('fault' in parsed.data) {
    const { code, detail, trace } = parsed.data.fault;
    throw new ApodixError(isFaultCode(code) ? code : 'DAMAGED', {
      ...(detail === undefined ? {} : { detail }),
      ...(trace === undefined ? {} : { cause: new Error(trace) }),
    });
  }
  return parsed.data.answer;
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}
