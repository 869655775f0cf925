import { ApodixError } from '@apodix/core';
import { runCommand } from './commands.ts';
import { UsageError, usage } from './usage.ts';

/**
 * Exit codes: 0 every must met, 1 a must falls short, 2 wrong usage, 3 refused input, 4 limits that cannot be
 * met.
 */
const controller = new AbortController();
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => controller.abort());

function writeJson(value: unknown): void {
  process.stdout.write(`${JSON.stringify(value, null, 2)}\n`);
}

try {
  const { answer, exitCode } = await runCommand(process.argv.slice(2), controller.signal);
  if (answer !== undefined) writeJson(answer);
  process.exitCode = exitCode;
} catch (error) {
  if (error instanceof UsageError) {
    process.stderr.write(`${error.message}\n\n${usage}\n`);
    process.exitCode = 2;
  } else if (error instanceof ApodixError) {
    writeJson({ refused: error.toJSON() });
    process.stderr.write(`${error.message} ${error.detail ?? ''}\n`);
    if (process.env.APODIX_TRACE && error.cause) process.stderr.write(`${String(error.cause)}\n`);
    process.exitCode = error.code === 'LIMITS_CANNOT_BE_MET' ? 4 : 3;
  } else {
    process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
    writeJson({ refused: new ApodixError('UNEXPECTED').toJSON() });
    process.exitCode = 3;
  }
}
