import { ApodixError, isEveryMustMet, placeInParcel, findSlotOf, Plan, readPlanRecipe } from '@apodix/core';
import { randomUUID } from 'node:crypto';
import type { Sequelize, Transaction } from 'sequelize';
import { z } from 'zod';
import { AssignmentRow, MadeRow, ParcelRow, type StoredMoment } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import type { JobHandler } from '../queue/job-queue.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { SeriesCache } from '../storage/series-cache.ts';
import { findNameContext, findTake, placeWork, requireWork } from '../work/load-work.ts';
import { EMPTY_PARCEL } from '../work/view-card.ts';
import { writeAudit } from '../work/write-audit.ts';
import { MakeDone } from '../worker/messages.ts';
import { findMeasured, findOtherFiles, findWorking, requireWorkTake } from './find-measured.ts';
import type { PieceFolders } from './piece-folders.ts';
import { planSampleJob } from './sample-job.ts';

export interface MakeContext {
  readonly sequelize: Sequelize;
  readonly blobs: BlobStore;
  readonly series: SeriesCache;
  readonly pieces: PieceFolders;
}

export const MakeInput = z.object({ plan: Plan, inputHash: z.string() });
/** Photographs are made in seconds. */
const QuickInput = z.object({ plan: z.object({ kind: z.literal('photo') }) });

export function buildMakeHandler({ sequelize, blobs, series, pieces }: MakeContext): JobHandler {
  return {
    prepare: async (job, folder) => {
      const { plan } = MakeInput.parse(job.input);
      const work = await requireWork(job);
      const { row } = requireWorkTake(work, job);
      if (!row.facts) throw new ApodixError('NOT_FOUND');
      return {
        kind: 'make',
        sourcePath: blobs.pathOf(row.sha256),
        folder,
        facts: row.facts,
        ...findMeasured(row, blobs),
        plan,
        limits: work.limits,
        nameContext: findNameContext(work),
        slotId: findSlotOf(placeWork(work), row),
        working: await findWorking(row, blobs),
        others: findOtherFiles(work, readPlanRecipe(plan), blobs),
        pieces: pieces.of(row.sha256),
      };
    },
    finish: async (job, rawResult) => {
      const done = MakeDone.parse(rawResult);
      const { plan, inputHash } = MakeInput.parse(job.input);
      const work = await requireWork(job);
      const { row: take } = requireWorkTake(work, job);
      const { sha256, sizeBytes } = await blobs.adopt(done.path);
      if (sha256 !== done.facts.sha256)
        throw new ApodixError('PROOF_FAILED', { detail: 'The bytes changed after they were measured.' });
      const poster = done.poster === null ? null : await blobs.adopt(done.poster);
      const moments = await adoptMoments(done.moments, blobs);
      const of = { takeId: take.id, assignmentId: work.assignment.id };
      await transact(sequelize, async (transaction) => {
        if (await MadeRow.findOne({ where: { ...of, inputHash, removedAt: null }, transaction })) return;
        const made = await MadeRow.create(
          {
            ...of,
            id: randomUUID(),
            personId: take.personId,
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
        const isMet = isEveryMustMet(done.findings);
        await writeAudit(
          take.personId,
          work.assignment.id,
          isMet ? `Made and proved ${plan.fileName}` : `Made ${plan.fileName}; a limit falls short`,
          transaction,
        );
        if (isMet) await putIntoParcel(made, transaction);
      });
      const fresh = await requireWork(job);
      const served = findTake(fresh, take.id);
      return served && planSampleJob(served, fresh, series);
    },
    fail: () => Promise.resolve(),
    isQuick: (job) => QuickInput.safeParse(job.input).success,
  };
}

async function adoptMoments(
  moments: z.infer<typeof MakeDone>['moments'],
  blobs: BlobStore,
): Promise<StoredMoment[]> {
  const stored: StoredMoment[] = [];
  for (const { atUs, ssim, sourcePath, madePath } of moments)
    stored.push({
      atUs,
      ssim,
      sourceSha256: (await blobs.adopt(sourcePath)).sha256,
      madeSha256: (await blobs.adopt(madePath)).sha256,
    });
  return stored;
}

/** A proven file goes into the first fitting slot by itself, where one has room. */
export async function putIntoParcel(file: MadeRow, transaction: Transaction): Promise<void> {
  const { personId, assignmentId, id, takeId, facts } = file;
  const where = { personId, assignmentId };
  const assignment = await AssignmentRow.findByPk(assignmentId, { transaction });
  const row = await ParcelRow.findOne({ where, transaction });
  const made = await MadeRow.findAll({ where, attributes: ['id', 'takeId'], transaction });
  const parcel = row?.parcel ?? EMPTY_PARCEL;
  const items = placeInParcel(
    { slots: assignment?.slots ?? [], items: parcel.items, made },
    { id, takeId, kind: facts.kind },
  );
  if (items) await ParcelRow.upsert({ ...where, parcel: { ...parcel, items: [...items] } }, { transaction });
}
