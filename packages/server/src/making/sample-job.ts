import { ApodixError, createPlainRecipe, planSamples } from '@apodix/core';
import { TakeUseRow } from '../data/models.ts';
import { hashInput } from '../queue/hash-input.ts';
import type { JobHandler, NewJob } from '../queue/job-queue.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { SeriesCache } from '../storage/series-cache.ts';
import { readSeriesOf, requireWork, type Work, type WorkTake } from '../work/load-work.ts';
import { SampleDone } from '../worker/messages.ts';
import { findMeasured, findWorking, requireWorkTake } from './find-measured.ts';

export function buildSampleHandler({ blobs }: { readonly blobs: BlobStore }): JobHandler {
  return {
    prepare: async (job, folder) => {
      const work = await requireWork(job);
      const { row, recipe } = requireWorkTake(work, job);
      if (!row.facts) throw new ApodixError('NOT_FOUND');
      return {
        kind: 'sample',
        sourcePath: blobs.pathOf(row.sha256),
        folder,
        facts: row.facts,
        ...findMeasured(row, blobs),
        recipe: recipe?.recipe ?? createPlainRecipe(),
        limits: work.limits,
        working: await findWorking(row, blobs),
      };
    },
    finish: async (job, rawResult) => {
      await TakeUseRow.update(
        { samples: SampleDone.parse(rawResult) },
        { where: { takeId: job.takeId ?? '', assignmentId: job.assignmentId ?? '' } },
      );
    },
    fail: () => Promise.resolve(),
  };
}

/**
 * The samples that Fit needs of a take and that are not there, as a job to add; null where nothing is to be
 * sampled.
 */
export async function planSampleJob(
  { row, use, recipe }: WorkTake,
  work: Pick<Work, 'limits'>,
  series: SeriesCache,
): Promise<NewJob | null> {
  if (row.state !== 'ready' || use.fault || row.facts?.kind !== 'video') return null;
  const own = await readSeriesOf(row, series);
  const spec = planSamples(row.facts, own, recipe?.recipe ?? createPlainRecipe(), work.limits);
  if (!spec || use.samples?.key === spec.key) return null;
  return {
    kind: 'sample',
    personId: row.personId,
    takeId: row.id,
    assignmentId: use.assignmentId,
    input: {},
    inputHash: hashInput({ takeId: row.id, assignmentId: use.assignmentId, samples: spec.key }),
  };
}
