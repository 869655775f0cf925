import { ApodixError } from '@apodix/core';
import { TakeRow } from '../data/models.ts';
import type { LiveEvents } from '../events/live-events.ts';
import { hashInput } from '../queue/hash-input.ts';
import type { Job, JobHandler, NewJob } from '../queue/job-queue.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { tellOfTake } from '../work/tell-work.ts';
import { ShakeDone } from '../worker/messages.ts';

/** The job that measures how the camera shook; it becomes part of what is known along the take. */
export function describeShakeJob(take: TakeRow, assignmentId: string): NewJob {
  return {
    kind: 'shake',
    personId: take.personId,
    takeId: take.id,
    assignmentId,
    input: {},
    inputHash: hashInput({ takeId: take.id, series: take.seriesSha256 }),
  };
}

export function buildShakeHandler({ blobs, live }: { blobs: BlobStore; live: LiveEvents }): JobHandler {
  const requireTake = async (job: Job) => {
    const take = job.takeId ? await TakeRow.findByPk(job.takeId) : null;
    if (!take?.facts || !take.seriesSha256) throw new ApodixError('CANCELLED');
    return { take, facts: take.facts, seriesSha256: take.seriesSha256 };
  };
  return {
    prepare: async (job, folder) => {
      const { take, facts, seriesSha256 } = await requireTake(job);
      const seriesPath = blobs.pathOf(seriesSha256);
      return { kind: 'shake', sourcePath: blobs.pathOf(take.sha256), folder, facts, seriesPath };
    },
    finish: async (job, rawResult) => {
      const { seriesPath } = ShakeDone.parse(rawResult);
      const { take } = await requireTake(job);
      await take.update({ seriesSha256: (await blobs.adopt(seriesPath)).sha256 });
      await tellOfTake(live, take);
    },
    fail: () => Promise.resolve(),
  };
}
