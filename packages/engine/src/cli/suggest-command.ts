import { BREATH, chooseSuggestion, LEAST_SUGGEST_CONFIDENCE, SuggestSubject } from '@apodix/core';
import { tmpdir } from 'node:os';
import { inspectMedia } from '../bring-in/bring-in.ts';
import { LEFT_TO_PERSON, type CommandEnd } from './command-end.ts';
import { UsageError } from './usage.ts';

/** Tells where the performance in a take begins and ends. */
export async function suggestCommand(
  file: string,
  rawSubject: string | undefined,
  signal: AbortSignal,
): Promise<CommandEnd> {
  const subject = SuggestSubject.nullable().safeParse(rawSubject ?? null);
  if (!subject.success) throw new UsageError(`--subject is one of ${SuggestSubject.options.join(', ')}.`);
  const { series } = await inspectMedia(file, { signal, scratchFolder: tmpdir() });
  const found = chooseSuggestion(series.suggestions ?? [], subject.data);
  const isSure = found !== null && found.confidence >= LEAST_SUGGEST_CONFIDENCE;
  const answer = found ? { ...found, isSure, breath: BREATH } : { startUs: null, finishUs: null, isSure };
  return { answer, exitCode: isSure ? 0 : LEFT_TO_PERSON };
}
