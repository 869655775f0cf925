import { ApodixError, canMakeAhead, Plan, readPlanRecipe } from '@apodix/core';
import { z } from 'zod';
import { MadeRow, TakeRow, TakeUseRow } from '../data/models.ts';
import { hashInput } from '../queue/hash-input.ts';
import type { JobHandler, JobQueue, NewJob } from '../queue/job-queue.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { SeriesCache } from '../storage/series-cache.ts';
import { findTake, planWorkTake, requireWork, type Work, type WorkTake } from '../work/load-work.ts';
import { findMeasured, findOtherFiles, findWorking, requireWorkTake } from './find-measured.ts';
import type { PieceFolders } from './piece-folders.ts';
import { planSampleJob } from './sample-job.ts';

export interface AheadContext {
  readonly blobs: BlobStore;
  readonly series: SeriesCache;
  readonly pieces: PieceFolders;
}

const AheadInput = z.object({ plan: Plan });
/** So long nothing is begun after a change: the next one may come at once. */
const QUIET_MS = 4000;

/** Codes pieces of what will be asked for, while nobody waits. Nothing of it is shown as made. */
export function buildAheadHandler({ blobs, series, pieces }: AheadContext): JobHandler {
  return {
    prepare: async (job, folder) => {
      const { plan } = AheadInput.parse(job.input);
      const work = await requireWork(job);
      const { row } = requireWorkTake(work, job);
      if (!row.facts) throw new ApodixError('NOT_FOUND');
      return {
        kind: 'ahead',
        sourcePath: blobs.pathOf(row.sha256),
        folder,
        facts: row.facts,
        ...findMeasured(row, blobs),
        plan,
        working: await findWorking(row, blobs),
        others: findOtherFiles(work, readPlanRecipe(plan), blobs),
        pieces: pieces.of(row.sha256),
      };
    },
    finish: async (job) => {
      const work = await requireWork(job);
      const take = findTake(work, job.takeId ?? '');
      return take && planSampleJob(take, work, series);
    },
    fail: () => Promise.resolve(),
  };
}

/** What is to be made ahead of a take as it stands, as a job to add; null where there is nothing. */
export async function planAheadJob(
  take: WorkTake,
  work: Work,
  series: SeriesCache,
  jobs: Pick<JobQueue, 'findLatest'>,
): Promise<NewJob | null> {
  const { row, use } = take;
  if (!use.isMadeAhead || row.state !== 'ready' || use.fault || !use.samples) return null;
  const planned = await planWorkTake(work, take, series);
  const plan = planned?.result.plan;
  if (!planned || !plan || planned.result.refusals.length > 0 || !canMakeAhead(plan)) return null;
  const of = { takeId: row.id, assignmentId: use.assignmentId };
  if ((await MadeRow.count({ where: { ...of, inputHash: planned.inputHash, removedAt: null } })) > 0)
    return null;
  const inputHash = hashInput({ ...of, ahead: plan });
  const last = await jobs.findLatest('ahead', inputHash);
  if (last?.state === 'done' || last?.state === 'failed') return null;
  return { ...of, kind: 'ahead', personId: row.personId, input: { plan }, inputHash };
}

export interface FollowContext {
  readonly series: SeriesCache;
  readonly jobs: JobQueue;
}

/**
 * After a change of a take, for one assignment or all that it serves: what is made ahead is what would be
 * asked for now, and nothing else.
 */
export async function followChange(
  take: Pick<TakeRow, 'id' | 'personId'>,
  context: FollowContext,
  assignmentId?: string,
): Promise<void> {
  const where = { takeId: take.id, ...(assignmentId === undefined ? {} : { assignmentId }) };
  for (const use of await TakeUseRow.findAll({ where })) await followUse(take, use, context);
}

/** After a change of what an assignment asks of one person, or of all without one: the same for its takes. */
export async function followLimits(
  assignmentId: string,
  context: FollowContext,
  personId?: string,
): Promise<void> {
  const uses = new Map(
    (await TakeUseRow.findAll({ where: { assignmentId } })).map((use) => [use.takeId, use]),
  );
  const where = { id: [...uses.keys()], ...(personId === undefined ? {} : { personId }) };
  for (const take of await TakeRow.findAll({ where })) {
    const use = uses.get(take.id);
    if (use) await followUse(take, use, context);
  }
}

async function followUse(
  { id, personId }: Pick<TakeRow, 'id' | 'personId'>,
  { samples, assignmentId }: TakeUseRow,
  { series, jobs }: FollowContext,
): Promise<void> {
  if (!samples) return;
  const work = await requireWork({ personId, assignmentId });
  const take = findTake(work, id);
  if (!take) return;
  const wanted = await planAheadJob(take, work, series, jobs);
  await endAhead(take, jobs, { except: wanted?.inputHash });
  if (wanted) await jobs.add({ ...wanted, notBefore: new Date(Date.now() + QUIET_MS) });
}

/**
 * Ends what is made ahead of a take for an assignment, but for what has the hash `except`; gently where the
 * pieces under way are of use.
 */
export async function endAhead(
  { use }: WorkTake,
  jobs: JobQueue,
  { except, isGentle = false }: { readonly except?: string | undefined; readonly isGentle?: boolean } = {},
): Promise<void> {
  const { takeId, assignmentId } = use;
  for (const job of await jobs.listOpen({ takeId, assignmentId }))
    if (job.kind === 'ahead' && job.inputHash !== except) await jobs.cancel(job.id, { isGentle });
}
