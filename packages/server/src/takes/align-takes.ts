import { ApodixError, LEAST_ALIGN_CONFIDENCE, type AlignAnswer } from '@apodix/core';
import { z } from 'zod';
import type { TakeRow } from '../data/models.ts';
import { runChild } from '../queue/run-child.ts';
import type { Services } from '../services/services.ts';

const Alignment = z.object({ offsetUs: z.number(), driftPpm: z.number(), confidence: z.number() }).nullable();

/** Lays the sound of one take on the picture of another, in a process of its own. */
export async function alignTakes(
  picture: TakeRow,
  sound: TakeRow,
  { blobs, log }: Pick<Services, 'blobs' | 'log'>,
): Promise<AlignAnswer> {
  const [own, other] = [picture.evidenceSha256, sound.evidenceSha256];
  if (!own || !other || !picture.facts?.sound || !sound.facts?.sound)
    throw new ApodixError('NOT_READY', { detail: 'Both takes need to be measured, and to have sound.' });
  const child = runChild(
    { kind: 'align', pictureEvidencePath: blobs.pathOf(own), soundEvidencePath: blobs.pathOf(other) },
    {
      onProgress: () => undefined,
      onEarly: () => undefined,
      onMalformed: (error) => log.error({ err: error }, 'Aligning said something else'),
    },
  );
  const end = await child.end;
  if (end.type !== 'done') throw new ApodixError('UNEXPECTED', { detail: 'The two could not be compared.' });
  const found = Alignment.parse(end.result);
  const { offsetUs, driftPpm, confidence } = found ?? { offsetUs: 0, driftPpm: 0, confidence: 0 };
  return {
    offsetUs: Math.round(offsetUs),
    driftPpm,
    confidence,
    belongTogether: confidence >= LEAST_ALIGN_CONFIDENCE,
  };
}
