import { LEAST_ALIGN_CONFIDENCE, alignSound } from '@apodix/core';
import { readMono } from '../sound/read-mono.ts';
import { LEFT_TO_PERSON, type CommandEnd } from './command-end.ts';

/** Lays a separate recording of the sound on that of a picture. */
export async function alignCommand(picture: string, sound: string, signal: AbortSignal): Promise<CommandEnd> {
  const [own, other] = [await readMono(picture, signal), await readMono(sound, signal)];
  const found = alignSound(own, other) ?? { offsetUs: 0, driftPpm: 0, confidence: 0 };
  const belongTogether = found.confidence >= LEAST_ALIGN_CONFIDENCE;
  return { answer: { ...found, belongTogether }, exitCode: belongTogether ? 0 : LEFT_TO_PERSON };
}
