import { ApodixError, cleanDisplayName, createPlainRecipe, readCeilings, Sheet } from '@apodix/core';
import { stat } from 'node:fs/promises';
import { z } from 'zod';
import { TakeRow } from '../data/models.ts';
import { hashInput } from '../queue/hash-input.ts';
import type { Job, JobHandler, NewJob } from '../queue/job-queue.ts';
import type { Services } from '../services/services.ts';
import { createTake } from '../takes/create-take.ts';
import { describeInspectJob } from '../takes/inspect-job.ts';
import { requireRoom } from '../takes/quota.ts';
import { requireWork, type Work } from '../work/load-work.ts';
import { writeAudit } from '../work/write-audit.ts';
import { SheetDone } from '../worker/messages.ts';

/** What taking a document over may add to it. */
const ROOM_SHARE = 0.98;
const MOST_NAME_SIGNS = 60;

export const SheetJobInput = z.object({ sheet: Sheet });

/**
 * The photographs of a sheet as they lie here, in order. Throws `BAD_REQUEST` where one is not there any more
 * or is no photograph.
 */
export function findPieces(work: Work, sheet: Sheet) {
  return sheet.pieces.map(({ takeId }) => {
    const take = work.takes.find(({ row }) => row.id === takeId);
    if (!take?.row.facts?.photo)
      throw new ApodixError('BAD_REQUEST', {
        detail: 'A photograph of this sheet is not there any more. Take it off the sheet.',
      });
    return { row: take.row, facts: take.row.facts, recipe: take.recipe?.recipe ?? createPlainRecipe() };
  });
}

/** The job that lays a sheet out. The same sheet of the same photographs is one job. */
export function describeSheetJob(work: Work, sheet: Sheet): NewJob {
  const pieces = findPieces(work, sheet);
  return {
    kind: 'sheet',
    personId: work.person.id,
    takeId: null,
    assignmentId: work.assignment.id,
    input: { sheet },
    inputHash: hashInput({
      assignmentId: work.assignment.id,
      sheet,
      pieces: pieces.map(({ row, recipe }) => ({ sha256: row.sha256, recipe })),
    }),
  };
}

export function buildSheetHandler({
  sequelize,
  blobs,
  live,
  settings,
}: Pick<Services, 'sequelize' | 'blobs' | 'live' | 'settings'>): JobHandler {
  return {
    prepare: async (job, folder) => {
      const { sheet } = SheetJobInput.parse(job.input);
      const work = await requireWork(job);
      const { maxBytes } = readCeilings(work.limits, 'document');
      return {
        kind: 'sheet',
        folder,
        sheet,
        takes: findPieces(work, sheet).map(({ row, facts, recipe }) => ({
          path: blobs.pathOf(row.sha256),
          facts,
          recipe,
        })),
        maxBytes: maxBytes === undefined || maxBytes === null ? null : Math.floor(maxBytes * ROOM_SHARE),
      };
    },
    finish: async (job, rawResult) => {
      const { path } = SheetDone.parse(rawResult);
      const { sheet } = SheetJobInput.parse(job.input);
      const work = await requireWork(job);
      const known = await findMade(job);
      if (known) return describeInspectJob(known, work.assignment.id);
      await requireRoom(work.person, (await stat(path)).size, settings);
      const stem = cleanDisplayName(sheet.title || 'Sheet', MOST_NAME_SIGNS);
      await createTake(sequelize, {
        id: job.id,
        personId: work.person.id,
        name: `${stem}.pdf`,
        origin: 'file',
        ...(await blobs.adopt(path, { isKept: true })),
        assignmentId: work.assignment.id,
      });
      const count = sheet.pieces.length;
      await writeAudit(
        work.person.id,
        work.assignment.id,
        `Laid out ${count === 1 ? 'a photograph' : `${count} photographs`} on a sheet`,
      );
      live.tell(work.person.id, { type: 'work', assignmentId: work.assignment.id });
      live.tell(work.person.id, { type: 'takes' });
      const made = await findMade(job);
      return made && describeInspectJob(made, work.assignment.id);
    },
    fail: () => Promise.resolve(),
  };
}

/** The take that a job became: it bears the job's own number, so that it becomes one once. */
const findMade = (job: Job): Promise<TakeRow | null> => TakeRow.findByPk(job.id);
