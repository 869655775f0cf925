import { ApodixError, createPlainRecipe, isSampled, planSamples, type FitSamples } from '@apodix/core';
import { TakeUseRow } from '../data/models.ts';
import { hashInput } from '../queue/hash-input.ts';
import type { LiveEvents } from '../events/live-events.ts';
import type { Job, JobHandler, NewJob } from '../queue/job-queue.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { SeriesCache } from '../storage/series-cache.ts';
import { findTake, readSeriesOf, requireWork, type Work, type WorkTake } from '../work/load-work.ts';
import { SampleDone } from '../worker/messages.ts';
import { findMeasured, findWorking, requireWorkTake } from './find-measured.ts';

export interface SampleContext {
  readonly blobs: BlobStore;
  readonly live: LiveEvents;
  readonly series: SeriesCache;
  /** What can be made ahead by what is known now. */
  readonly planAhead: (take: WorkTake, work: Work) => Promise<NewJob | null>;
}

export function buildSampleHandler({ blobs, live, series, planAhead }: SampleContext): JobHandler {
  const keep = (job: Job, samples: FitSamples) =>
    TakeUseRow.update(
      { samples },
      { where: { takeId: job.takeId ?? '', assignmentId: job.assignmentId ?? '' } },
    );
  return {
    prepare: async (job, folder) => {
      const work = await requireWork(job);
      const { row, use, recipe } = requireWorkTake(work, job);
      if (!row.facts) throw new ApodixError('NOT_FOUND');
      return {
        kind: 'sample',
        sourcePath: blobs.pathOf(row.sha256),
        folder,
        facts: row.facts,
        ...findMeasured(row, blobs),
        recipe: recipe?.recipe ?? createPlainRecipe(),
        limits: work.limits,
        known: use.samples ?? null,
        // Little is sampled before anything is made ahead; the rest comes after that.
        isFirstLook: use.isMadeAhead,
        working: await findWorking(row, blobs),
      };
    },
    // What is known so far serves a press that comes meanwhile, and is not sampled again after it.
    early: async (job, rawResult) => {
      await keep(job, SampleDone.parse(rawResult));
      const { personId, assignmentId } = job;
      if (assignmentId !== null) live.tell(personId, { type: 'work', assignmentId });
    },
    finish: async (job, rawResult) => {
      await keep(job, SampleDone.parse(rawResult));
      const work = await requireWork(job);
      const take = findTake(work, job.takeId ?? '');
      return take && ((await planAhead(take, work)) ?? (await planSampleJob(take, work, series)));
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
  if (!spec || isSampled(use.samples, spec)) return null;
  return {
    kind: 'sample',
    personId: row.personId,
    takeId: row.id,
    assignmentId: use.assignmentId,
    input: {},
    inputHash: hashInput({ takeId: row.id, assignmentId: use.assignmentId, samples: spec.key }),
  };
}
