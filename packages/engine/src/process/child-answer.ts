import type { ApodixError } from '@apodix/core';
import { z } from 'zod';

/** What a child process says at its end: what was asked for, or the fault that a person is told. */
export const ChildAnswer = z.union([
  z.object({ answer: z.unknown() }),
  z.object({
    fault: z.object({ code: z.string(), detail: z.string().optional(), trace: z.string().optional() }),
  }),
]);
type ChildAnswer = z.infer<typeof ChildAnswer>;

/** Does the work of a child process and says on standard output, as JSON, how it went. */
export async function answerAsChild(
  work: () => Promise<unknown>,
  explain: (error: unknown) => ApodixError,
): Promise<void> {
  const say = (answer: ChildAnswer) => process.stdout.write(JSON.stringify(answer));
  try {
    say({ answer: await work() });
  } catch (error) {
    const { code, detail, cause } = explain(error);
    // For the log: a person is told in plain words, without paths of this machine.
    say({ fault: { code, detail, trace: cause instanceof Error ? cause.message : undefined } });
  }
}
