import { ApodixError } from '@apodix/core';
import { SheetRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import { viewJob } from '../queue/job-queue.ts';
import { need, type Call, type Handlers } from '../routing/call.ts';
import { loadWork } from '../work/load-work.ts';
import { describeSheetJob } from './sheet-job.ts';

const findWhere = ({ granted }: Pick<Call, 'granted'>) => ({
  personId: need(granted.person).id,
  assignmentId: need(granted.assignment).id,
});

export const sheetsRoutes: Handlers<'readSheet' | 'writeSheet' | 'makeSheet'> = {
  readSheet: async (call) => {
    const row = await SheetRow.findOne({ where: findWhere(call) });
    return { version: row?.version ?? 0, sheet: row?.sheet ?? null };
  },

  writeSheet: async (call) => {
    const { body, services } = call;
    const where = findWhere(call);
    return transact(services.sequelize, async (transaction) => {
      const row = await SheetRow.findOne({ where, transaction });
      if ((row?.version ?? 0) !== body.baseVersion) throw new ApodixError('CHANGED_MEANWHILE');
      const next = { version: body.baseVersion + 1, sheet: body.sheet };
      if (row) await row.update(next, { transaction });
      else await SheetRow.create({ ...where, ...next }, { transaction });
      return next;
    });
  },

  makeSheet: async (call) => {
    const row = await SheetRow.findOne({ where: findWhere(call) });
    if (!row || row.sheet.pieces.length === 0)
      throw new ApodixError('BAD_REQUEST', { detail: 'A sheet needs at least one photograph.' });
    const work = await loadWork(need(call.granted.person), need(call.granted.assignment));
    return { job: viewJob(await call.services.jobs.add(describeSheetJob(work, row.sheet))) };
  },
};
