import {
  ApodixError,
  cleanDisplayName,
  createPlainRecipe,
  EMPTY_SERIES,
  findSlotItem,
  isStillKind,
  findMissingStream,
  isEveryMustMet,
  Plan,
  planSamples,
  propose,
  readCeilings,
  type JobKind,
} from '@apodix/core';
import { randomUUID } from 'node:crypto';
import type { Sequelize, Transaction } from 'sequelize';
import { z } from 'zod';
import { writeAudit } from '../assignments/audit.ts';
import {
  buildNameContext,
  EMPTY_PARCEL,
  findSlotOf,
  loadWork,
  readSeriesOf,
} from '../assignments/load-work.ts';
import type { DiskBlobStore } from '../blobs/disk-blob-store.ts';
import type { SeriesCache } from '../blobs/series-cache.ts';
import {
  AssignmentRow,
  MadeRow,
  ParcelRow,
  PersonRow,
  RecipeRow,
  TakeRow,
  type JobRow,
  type StoredMoment,
} from '../data/models.ts';
import { InspectDone, MakeDone, SampleDone } from '../worker/messages.ts';
import { transact } from '../data/transact.ts';
import { hashInput } from './hash-input.ts';
import type { JobHandler, JobRunner } from './job-runner.ts';

export interface HandlerContext {
  readonly sequelize: Sequelize;
  readonly blobs: DiskBlobStore;
  readonly series: SeriesCache;
}

/** One row a kind of job that works on takes. */
export function buildTakeJobHandlers(
  context: HandlerContext,
): Readonly<Record<Exclude<JobKind, 'deliver'>, JobHandler>> {
  return {
    inspect: buildInspectHandler(context),
    sample: buildSampleHandler(context),
    make: buildMakeHandler(context),
  };
}

async function requireTake(job: JobRow): Promise<TakeRow> {
  const take = job.takeId ? await TakeRow.findByPk(job.takeId) : null;
  if (!take) throw new ApodixError('CANCELLED');
  return take;
}

async function requireWork(job: { personId: string; assignmentId: string | null }) {
  const [person, assignment] = await Promise.all([
    PersonRow.findByPk(job.personId),
    AssignmentRow.findByPk(job.assignmentId ?? ''),
  ]);
  if (!person || !assignment) throw new ApodixError('CANCELLED');
  return loadWork(person, assignment);
}

function buildInspectHandler({ sequelize, blobs, series }: HandlerContext): JobHandler {
  return {
    prepare: async (job, folder) => ({
      kind: 'inspect',
      sourcePath: blobs.pathOf((await requireTake(job)).sha256),
      folder,
      mostLines: readCeilings((await requireWork(job)).limits, 'video').size.shortEdgePx ?? null,
    }),
    finish: async (job, rawResult) => {
      const { facts, filmstrip, files } = InspectDone.parse(rawResult);
      const take = await requireTake(job);
      const { limits } = await requireWork(job);
      const missing = findMissingStream(limits, facts);
      const adopt = async (path: string | undefined) =>
        path === undefined ? null : (await blobs.adopt(path)).sha256;
      const [proxySha256, stripSha256, posterSha256] = [
        await adopt(files.proxy),
        await adopt(files.strip),
        await adopt(files.poster),
      ];
      const intermediateSha256 = await adopt(files.intermediate);
      const [seriesSha256, evidenceSha256] = [await adopt(files.series), await adopt(files.evidence)];
      const own = seriesSha256 ? await series.read(seriesSha256) : EMPTY_SERIES;
      const proposal = propose(facts, own, limits);
      await transact(sequelize, async (transaction) => {
        const hasChosen =
          (await TakeRow.count({
            where: { personId: take.personId, assignmentId: take.assignmentId, isChosen: true },
            transaction,
          })) > 0;
        await take.update(
          {
            state: missing ? 'refused' : 'ready',
            fault: missing ? new ApodixError(missing).toJSON() : null,
            kind: facts.kind,
            facts,
            filmstrip,
            seriesSha256,
            evidenceSha256,
            proxySha256,
            stripSha256,
            posterSha256,
            intermediateSha256,
            isChosen: !missing && (isStillKind(facts.kind) || !hasChosen),
            proposal: {
              recipe: proposal.recipe,
              startReason: proposal.range?.startReason ?? null,
              finishReason: proposal.range?.finishReason ?? null,
              remarks: [...proposal.remarks],
            },
          },
          { transaction },
        );
        if ((await RecipeRow.count({ where: { takeId: take.id }, transaction })) === 0)
          await RecipeRow.create(
            { takeId: take.id, version: 1, recipe: proposal.recipe, createdAt: new Date() },
            { transaction },
          );
        await writeAudit(
          take.personId,
          take.assignmentId,
          missing
            ? `Could not use ${cleanDisplayName(take.name, 40)}`
            : `Brought in ${cleanDisplayName(take.name, 40)}`,
          transaction,
        );
      });
      return planSampleJob(take, await requireWork(job), series);
    },
    fail: async (job, fault) => {
      const take = job.takeId ? await TakeRow.findByPk(job.takeId) : null;
      await take?.update({ state: 'refused', fault: fault.toJSON() });
    },
  };
}

function buildSampleHandler({ blobs }: HandlerContext): JobHandler {
  return {
    prepare: async (job, folder) => {
      const take = await requireTake(job);
      const work = await requireWork(job);
      if (!take.facts) throw new ApodixError('NOT_FOUND');
      const recipe = work.recipes.get(take.id)?.recipe ?? createPlainRecipe();
      return {
        kind: 'sample',
        sourcePath: blobs.pathOf(take.sha256),
        folder,
        facts: take.facts,
        ...findMeasured(take, blobs),
        recipe,
        limits: work.limits,
        working: await findWorking(take, blobs),
      };
    },
    finish: async (job, rawResult) => {
      const take = await requireTake(job);
      await take.update({ samples: SampleDone.parse(rawResult) });
    },
    fail: () => Promise.resolve(),
  };
}

/**
 * The samples that Fit needs of a take and that are not there, as a job to add; null where nothing is to be
 * sampled.
 */
export async function planSampleJob(
  take: TakeRow,
  work: Pick<Awaited<ReturnType<typeof loadWork>>, 'limits' | 'recipes'>,
  series: SeriesCache,
): Promise<Parameters<JobRunner['add']>[0] | null> {
  if (take.state !== 'ready' || take.facts?.kind !== 'video') return null;
  const own = await readSeriesOf(take, series);
  const spec = planSamples(
    take.facts,
    own,
    work.recipes.get(take.id)?.recipe ?? createPlainRecipe(),
    work.limits,
  );
  if (!spec || take.samples?.key === spec.key) return null;
  return {
    kind: 'sample',
    personId: take.personId,
    takeId: take.id,
    assignmentId: take.assignmentId,
    input: {},
    inputHash: hashInput({ takeId: take.id, samples: spec.key }),
  };
}

const MakeInput = z.object({ plan: Plan, inputHash: z.string() });

function buildMakeHandler({ sequelize, blobs, series }: HandlerContext): JobHandler {
  return {
    prepare: async (job, folder) => {
      const { plan } = MakeInput.parse(job.input);
      const take = await requireTake(job);
      const work = await requireWork(job);
      if (!take.facts) throw new ApodixError('NOT_FOUND');
      return {
        kind: 'make',
        sourcePath: blobs.pathOf(take.sha256),
        folder,
        facts: take.facts,
        ...findMeasured(take, blobs),
        plan,
        limits: work.limits,
        nameContext: buildNameContext(work),
        slotId: findSlotOf(work, take),
        working: await findWorking(take, blobs),
      };
    },
    finish: async (job, rawResult) => {
      const done = MakeDone.parse(rawResult);
      const { plan, inputHash } = MakeInput.parse(job.input);
      const take = await requireTake(job);
      const [{ sha256, sizeBytes }, poster] = [
        await blobs.adopt(done.path),
        done.poster === null ? null : await blobs.adopt(done.poster),
      ];
      if (sha256 !== done.facts.sha256)
        throw new ApodixError('PROOF_FAILED', { detail: 'The bytes changed after they were measured.' });
      const moments: StoredMoment[] = [];
      for (const { atUs, ssim, sourcePath, madePath } of done.moments)
        moments.push({
          atUs,
          ssim,
          sourceSha256: (await blobs.adopt(sourcePath)).sha256,
          madeSha256: (await blobs.adopt(madePath)).sha256,
        });
      await transact(sequelize, async (transaction) => {
        if (await MadeRow.findOne({ where: { takeId: take.id, inputHash }, transaction })) return;
        const made = await MadeRow.create(
          {
            id: randomUUID(),
            takeId: take.id,
            personId: take.personId,
            assignmentId: take.assignmentId,
            fileName: plan.fileName,
            sha256,
            sizeBytes,
            facts: done.facts,
            findings: done.findings,
            comparison: done.comparison,
            moments,
            plan: done.plan,
            inputHash,
            posterSha256: poster?.sha256 ?? null,
            createdAt: new Date(),
          },
          { transaction },
        );
        await writeAudit(
          take.personId,
          take.assignmentId,
          isEveryMustMet(done.findings)
            ? `Made and proved ${plan.fileName}`
            : `Made ${plan.fileName}; a limit falls short`,
          transaction,
        );
        if (isEveryMustMet(done.findings)) await putIntoParcel(made, transaction);
      });
      return planSampleJob(take, await requireWork(job), series);
    },
    fail: () => Promise.resolve(),
  };
}

/** Where series and evidence of a take lie; a take of before has none, and is measured anew. */
function findMeasured(take: TakeRow, blobs: DiskBlobStore) {
  const pathOf = (sha256: string | null | undefined) => (sha256 ? blobs.pathOf(sha256) : null);
  return { seriesPath: pathOf(take.seriesSha256), evidencePath: pathOf(take.evidenceSha256) };
}

/** Working files that are still there; making goes on without those that are not. */
async function findWorking(take: TakeRow, blobs: DiskBlobStore): Promise<{ intermediatePath?: string }> {
  const sha256 = take.intermediateSha256;
  return sha256 && (await blobs.has(sha256)) ? { intermediatePath: blobs.pathOf(sha256) } : {};
}

/**
 * A proven file goes into the first fitting slot by itself, in place of an earlier one from the same take.
 */
export async function putIntoParcel(made: MadeRow, transaction: Transaction): Promise<void> {
  const where = { personId: made.personId, assignmentId: made.assignmentId };
  const assignment = await AssignmentRow.findByPk(made.assignmentId, { transaction });
  const row = await ParcelRow.findOne({ where, transaction });
  const parcel = row?.parcel ?? EMPTY_PARCEL;
  const slots = (assignment?.slots ?? []).filter((slot) => slot.item === findSlotItem(made.facts.kind));
  const siblings = await MadeRow.findAll({ where: { takeId: made.takeId }, transaction });
  const others = parcel.items.filter((item) => !siblings.some((sibling) => sibling.id === item.madeId));
  const slot =
    slots.find((each) => others.filter((item) => item.slotId === each.id).length < each.max) ?? slots[0];
  if (!slot) return;
  const inSlot = others.filter((item) => item.slotId === slot.id);
  const isFull = inSlot.length >= slot.max;
  const kept = isFull && slot.max === 1 ? others.filter((item) => item.slotId !== slot.id) : others;
  if (isFull && slot.max > 1) return;
  await ParcelRow.upsert(
    { ...where, parcel: { ...parcel, items: [...kept, { slotId: slot.id, madeId: made.id }] } },
    { transaction },
  );
}
