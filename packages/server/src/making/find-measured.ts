import { ApodixError, type Recipe } from '@apodix/core';
import type { TakeRow } from '../data/models.ts';
import type { Job } from '../queue/job-queue.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { findOtherTakes, findTake, type Work, type WorkTake } from '../work/load-work.ts';

/** The take that a job is about; one that serves the assignment no longer ends the job. */
export function requireWorkTake(work: Work, job: Pick<Job, 'takeId'>): WorkTake {
  const take = findTake(work, job.takeId ?? '');
  if (!take) throw new ApodixError('CANCELLED');
  return take;
}

/** Where series and evidence of a take lie; a take of before has none, and is measured anew. */
export function findMeasured(take: TakeRow, blobs: BlobStore) {
  const pathOf = (sha256: string | null | undefined) => (sha256 ? blobs.pathOf(sha256) : null);
  return { seriesPath: pathOf(take.seriesSha256), evidencePath: pathOf(take.evidenceSha256) };
}

/** The takes that a recipe names beside its own, with their files. */
export function findOtherFiles(work: Work, recipe: Recipe, blobs: BlobStore) {
  return findOtherTakes(work, recipe).map(({ row, facts }) => ({
    takeId: row.id,
    sourcePath: blobs.pathOf(row.sha256),
    facts,
    ...findMeasured(row, blobs),
  }));
}

/** Working files that are still there; making goes on without those that are not. */
export async function findWorking(take: TakeRow, blobs: BlobStore): Promise<{ intermediatePath?: string }> {
  const sha256 = take.intermediateSha256;
  return sha256 && (await blobs.has(sha256)) ? { intermediatePath: blobs.pathOf(sha256) } : {};
}
