import { ApodixError, isFaultCode } from '@apodix/core';
import { execa } from 'execa';
import { fileURLToPath } from 'node:url';
import { guardCommand } from '../process/run-tool.ts';
import { PaperAnswer, type PaperText } from './paper-text.ts';

const isSource = import.meta.url.endsWith('.ts');
const childPath = fileURLToPath(new URL(isSource ? './paper-child.ts' : './paper-child.js', import.meta.url));
const SECONDS = 180;
/** Address space: the recogniser and Node reserve some ten gigabytes each and use little of it. */
const LIMITS = { seconds: SECONDS, memoryBytes: 256_000_000_000, outputBytes: 400_000_000 };
const HEAP_MB = 1536;
const MOST_ANSWER_BYTES = 60_000_000;

/**
 * Reads instructions from a PDF, a photograph or a scan of a printed page, or of a slide (English), in a
 * child process with limits on time and memory. Throws `NOT_PAPER`, `NOTHING_TO_READ`, `TOO_HEAVY`,
 * `CANCELLED`, and what reading a picture throws.
 */
export async function readPaper(path: string, signal?: AbortSignal): Promise<PaperText> {
  const nodeArgs = [
    `--max-old-space-size=${HEAP_MB}`,
    ...(isSource ? ['--import', 'tsx', '--conditions=source'] : []),
    childPath,
    path,
  ];
  const [file, args] = guardCommand(process.execPath, nodeArgs, LIMITS);
  const result = await execa(file, args, {
    reject: false,
    stdin: 'ignore',
    timeout: SECONDS * 1000,
    maxBuffer: MOST_ANSWER_BYTES,
    forceKillAfterDelay: 2000,
    ...(signal ? { cancelSignal: signal } : {}),
  });
  if (result.isCanceled) throw new ApodixError('CANCELLED');
  if (result.timedOut) throw new ApodixError('TOO_HEAVY');
  const parsed = PaperAnswer.safeParse(parseJson(result.stdout));
  if (!parsed.success)
    throw new ApodixError(result.signal === 'SIGKILL' ? 'TOO_HEAVY' : 'DAMAGED', {
      cause: new Error(`${result.shortMessage ?? ''}\n${result.stderr.slice(-2000)}`),
    });
  if ('answer' in parsed.data) return parsed.data.answer;
  const { code, trace } = parsed.data.fault;
  throw new ApodixError(isFaultCode(code) ? code : 'DAMAGED', {
    ...(trace === undefined ? {} : { cause: new Error(trace) }),
  });
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}
