import { ApodixError, cleanDisplayName } from '@apodix/core';
import { mergePhotos } from '@apodix/engine';
import { randomUUID } from 'node:crypto';
import { mkdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { TakeRow, type PersonRow } from '../data/models.ts';
import type { Services } from '../services/services.ts';
import { createTake } from './create-take.ts';
import { describeInspectJob } from './inspect-job.ts';
import { requireRoom } from './quota.ts';

const MOST_NAME_SIGNS = 60;

/**
 * Makes a photograph take of several of one piece, as the first one lies, for an assignment or for nothing
 * yet. Throws `NOT_READY` while one is still being measured, `BAD_REQUEST` where they do not belong
 * together.
 */
export async function mergeTakes(
  takes: readonly TakeRow[],
  person: PersonRow,
  assignmentId: string | null,
  services: Services,
): Promise<{ readonly takeId: string; readonly replacedShare: number }> {
  const { blobs, settings, sequelize, jobs } = services;
  const [first] = takes;
  if (!first || new Set(takes.map(({ sha256 }) => sha256)).size < takes.length)
    throw new ApodixError('BAD_REQUEST', { detail: 'Choose another photograph of the same piece.' });
  const shots = takes.map(({ sha256, facts }) => {
    if (!facts) throw new ApodixError('NOT_READY', { detail: 'A photograph is still being measured.' });
    return { path: blobs.pathOf(sha256), facts };
  });
  const folder = join(settings.APODIX_DATA, 'stills');
  const path = join(folder, `${randomUUID()}.jpg`);
  try {
    await mkdir(folder, { recursive: true });
    const { replacedShare } = await mergePhotos({ shots, outputPath: path });
    await requireRoom(person, (await stat(path)).size, settings);
    const kept = await blobs.adopt(path, { isKept: true });
    const takeId = randomUUID();
    const stem = cleanDisplayName(first.name.replace(/\.[^.]*$/, ''), MOST_NAME_SIGNS);
    await createTake(sequelize, {
      id: takeId,
      personId: first.personId,
      name: `${stem} without glare.jpg`,
      origin: first.origin,
      ...kept,
      assignmentId,
    });
    const merged = await TakeRow.findByPk(takeId);
    if (merged) await jobs.add(describeInspectJob(merged, assignmentId));
    return { takeId, replacedShare };
  } finally {
    await rm(path, { force: true });
  }
}
