import {
  ApodixError,
  cleanDisplayName,
  EMPTY_SERIES,
  findMissingStream,
  isStillKind,
  propose,
  readCeilings,
  readSuggestSubject,
  type MediaFacts,
} from '@apodix/core';
import type { Sequelize, Transaction } from 'sequelize';
import { RecipeRow, TakeRow, TakeUseRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import type { LiveEvents } from '../events/live-events.ts';
import { planSampleJob } from '../making/sample-job.ts';
import { hashInput } from '../queue/hash-input.ts';
import type { Job, JobHandler, NewJob } from '../queue/job-queue.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { SeriesCache } from '../storage/series-cache.ts';
import { findTake, requireWork, type Work } from '../work/load-work.ts';
import { writeAudit } from '../work/write-audit.ts';
import { tellOfTake } from '../work/tell-work.ts';
import { InspectDone, InspectEarly } from '../worker/messages.ts';
import { hasChosen } from './take-uses.ts';

export interface InspectContext {
  readonly sequelize: Sequelize;
  readonly blobs: BlobStore;
  readonly series: SeriesCache;
  readonly live: LiveEvents;
}

/** The job that measures a take and proposes what to do to it. */
export function describeInspectJob(take: TakeRow, assignmentId: string | null): NewJob {
  return {
    kind: 'inspect',
    personId: take.personId,
    takeId: take.id,
    assignmentId,
    input: {},
    inputHash: hashInput({ takeId: take.id }),
  };
}

const requireTake = async (job: Job): Promise<TakeRow> => {
  const take = job.takeId ? await TakeRow.findByPk(job.takeId) : null;
  if (!take) throw new ApodixError('CANCELLED');
  return take;
};

/** null where the take came in for nothing yet. */
const findWork = (job: Job): Promise<Work | null> =>
  job.assignmentId === null ? Promise.resolve(null) : requireWork(job);

export function buildInspectHandler({ sequelize, blobs, series, live }: InspectContext): JobHandler {
  return {
    prepare: async (job, folder) => ({
      kind: 'inspect',
      sourcePath: blobs.pathOf((await requireTake(job)).sha256),
      folder,
      mostLines: readCeilings((await findWork(job))?.limits ?? [], 'video').size.shortEdgePx ?? null,
    }),
    early: async (job, rawResult) => {
      const early = InspectEarly.parse(rawResult);
      const take = await requireTake(job);
      const adopt = async (path: string) => (await blobs.adopt(path)).sha256;
      const known =
        early.of === 'look'
          ? {
              posterSha256: await adopt(early.poster),
              stripSha256: await adopt(early.strip),
              filmstrip: early.filmstrip,
            }
          : early.of === 'times'
            ? { draft: early.draft, seriesSha256: await adopt(early.series) }
            : { proxySha256: early.path === null ? take.sha256 : await adopt(early.path) };
      // What is measured meanwhile is better than what was there early.
      await TakeRow.update(known, { where: { id: take.id, state: 'inspecting' } });
      await tellOfTake(live, take);
    },
    finish: async (job, rawResult) => {
      const { facts: measured, filmstrip, isOwnProxy, color, faults, files } = InspectDone.parse(rawResult);
      const take = await requireTake(job);
      const facts = addOrigin(measured, take);
      const work = await findWork(job);
      const adopt = async (path: string | undefined) =>
        path === undefined ? null : (await blobs.adopt(path)).sha256;
      const adopted = {
        proxySha256: isOwnProxy ? take.sha256 : await adopt(files.proxy),
        stripSha256: await adopt(files.strip),
        posterSha256: await adopt(files.poster),
        intermediateSha256: await adopt(files.intermediate),
        seriesSha256: await adopt(files.series),
        evidenceSha256: await adopt(files.evidence),
      };
      const own = adopted.seriesSha256 ? await series.read(adopted.seriesSha256) : EMPTY_SERIES;
      const proposal = propose(
        facts,
        own,
        work?.limits ?? [],
        readSuggestSubject(work?.course?.subject ?? ''),
        { color, faults },
      );
      await transact(sequelize, async (transaction) => {
        await take.update(
          {
            state: 'ready',
            fault: null,
            kind: facts.kind,
            facts,
            draft: null,
            filmstrip,
            ...adopted,
            proposal: {
              recipe: proposal.recipe,
              startReason: proposal.range?.startReason ?? null,
              finishReason: proposal.range?.finishReason ?? null,
              soundFaults: faults,
              colorReasons: [...proposal.colorReasons],
              remarks: [...proposal.remarks],
            },
          },
          { transaction },
        );
        const { recipe } = proposal;
        if ((await RecipeRow.count({ where: { takeId: take.id }, transaction })) === 0)
          await RecipeRow.create(
            { takeId: take.id, version: 1, recipe, createdAt: new Date() },
            { transaction },
          );
        if (work) await serve(take, facts, work, transaction);
      });
      if (!work) return null;
      const fresh = await requireWork(job);
      const served = findTake(fresh, take.id);
      return served && planSampleJob(served, fresh, series);
    },
    fail: async (job, fault) => {
      const take = job.takeId ? await TakeRow.findByPk(job.takeId) : null;
      await take?.update({ state: 'refused', fault: fault.toJSON() });
    },
  };
}

/**
 * The camera here records in one go and tells when it does not: a take of its, without a gap, is unbroken.
 * Like what was seen along it, that is the word of the person's own browser.
 */
function addOrigin(facts: MediaFacts, take: Pick<TakeRow, 'origin'>): MediaFacts {
  const { continuity } = facts;
  if (take.origin !== 'camera' || !continuity) return facts;
  return { ...facts, continuity: { ...continuity, isSure: continuity.gaps.length === 0 } };
}

/** What a measured take is to the assignment that it was brought in for. */
async function serve(take: TakeRow, facts: MediaFacts, work: Work, transaction: Transaction): Promise<void> {
  const { person, assignment } = work;
  const lack = findMissingStream(work.limits, facts);
  const isChosen = !lack && (isStillKind(facts.kind) || !(await hasChosen(work, transaction)));
  await TakeUseRow.update(
    { isChosen, fault: lack ? new ApodixError(lack).toJSON() : null },
    { where: { takeId: take.id, assignmentId: assignment.id }, transaction },
  );
  const name = cleanDisplayName(take.name, 40);
  await writeAudit(
    person.id,
    assignment.id,
    lack ? `Could not use ${name}` : `Brought in ${name}`,
    transaction,
  );
}
