import { ApodixError, cleanDisplayName } from '@apodix/core';
import { extractStill } from '@apodix/engine';
import { randomUUID } from 'node:crypto';
import { mkdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { TakeRow, type PersonRow } from '../data/models.ts';
import type { Services } from '../services/services.ts';
import { createTake } from './create-take.ts';
import { describeInspectJob } from './inspect-job.ts';
import { requireRoom } from './quota.ts';

/** Makes a photograph take of one frame of a take, for an assignment or for nothing yet; gives its id. */
export async function takeStill(
  take: TakeRow,
  person: PersonRow,
  wish: { readonly frame: number; readonly assignmentId: string | null },
  services: Services,
): Promise<string> {
  const { blobs, series, settings, sequelize, jobs } = services;
  if (!take.facts?.video || !take.seriesSha256)
    throw new ApodixError('NOT_READY', { detail: 'The take is still being measured.' });
  const { frames } = await series.read(take.seriesSha256);
  if (!frames) throw new ApodixError('BAD_REQUEST', { detail: 'The take has no frames.' });
  const folder = join(settings.APODIX_DATA, 'stills');
  const path = join(folder, `${randomUUID()}.png`);
  try {
    await mkdir(folder, { recursive: true });
    const sourcePath = blobs.pathOf(take.sha256);
    await extractStill({
      path: sourcePath,
      facts: take.facts,
      frames,
      frame: wish.frame,
      outputPath: path,
    });
    await requireRoom(person, (await stat(path)).size, settings);
    const kept = await blobs.adopt(path, { isKept: true });
    const id = randomUUID();
    const stem = cleanDisplayName(take.name.replace(/\.[^.]*$/, ''), 60);
    await createTake(sequelize, {
      id,
      personId: take.personId,
      name: `${stem} frame ${wish.frame}.png`,
      origin: take.origin,
      ...kept,
      assignmentId: wish.assignmentId,
    });
    const still = await TakeRow.findByPk(id);
    if (still) await jobs.add(describeInspectJob(still, wish.assignmentId));
    return id;
  } finally {
    await rm(path, { force: true });
  }
}
