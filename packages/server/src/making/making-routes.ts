import { ApodixError, buildSafeFileName, containerTable, findSlotOf, isEveryMustMet } from '@apodix/core';
import { AssignmentRow, MadeRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import { requireNotHandedIn } from '../hand-in/require-not-handed-in.ts';
import { hashInput } from '../queue/hash-input.ts';
import { viewJob } from '../queue/job-queue.ts';
import { need, type Call, type Handlers } from '../routing/call.ts';
import { sendBlob } from '../routing/send-blob.ts';
import { judgeAnew } from '../work/judge-files.ts';
import { findNameContext, findTake, loadWork, placeWork, planWorkTake } from '../work/load-work.ts';
import { endAhead } from './ahead-job.ts';
import { putIntoParcel } from './make-job.ts';
import { describeShakeJob } from './shake-job.ts';
import { planSampleJob } from './sample-job.ts';

/** The caller's work with the take that the address names. */
async function loadNamed({ granted }: Pick<Call, 'granted'>) {
  const work = await loadWork(need(granted.person), need(granted.assignment));
  return { work, take: need(findTake(work, need(granted.take).id)) };
}

export const makingRoutes: Handlers<
  | 'makeFile'
  | 'sampleTake'
  | 'measureShake'
  | 'readMadeFile'
  | 'renameMade'
  | 'removeMade'
  | 'restoreMade'
  | 'readJob'
  | 'cancelJob'
> = {
  makeFile: async (call) => {
    const { services } = call;
    const { work, take } = await loadNamed(call);
    const planned = await planWorkTake(work, take, services.series);
    if (!planned) throw new ApodixError('BAD_REQUEST', { detail: 'This take has not been measured yet.' });
    const { result, inputHash } = planned;
    const { refusals } = result;
    const of = { takeId: take.row.id, assignmentId: work.assignment.id };
    if (!result.plan || refusals.length > 0) return { job: null, refusals };
    if (await MadeRow.findOne({ where: { ...of, inputHash, removedAt: null } }))
      return { job: null, refusals };
    await endAhead(take, services.jobs, { isGentle: true });
    const job = await services.jobs.add({
      ...of,
      kind: 'make',
      personId: work.person.id,
      input: { plan: result.plan, inputHash },
      // The same recording may be made the same way for several assignments.
      inputHash: hashInput({ ...of, inputHash }),
    });
    return { job: viewJob(job), refusals };
  },

  sampleTake: async (call) => {
    const { work, take } = await loadNamed(call);
    const wanted = await planSampleJob(take, work, call.services.series);
    return { job: wanted ? viewJob(await call.services.jobs.add(wanted)) : null };
  },

  measureShake: async (call) => {
    const { work, take } = await loadNamed(call);
    const { row } = take;
    if (row.state !== 'ready' || !row.facts?.video || !row.seriesSha256)
      throw new ApodixError('NOT_READY', { detail: 'The take needs to be measured, and to have a picture.' });
    const { shake = null } = await call.services.series.read(row.seriesSha256);
    const job = describeShakeJob(row, work.assignment.id);
    return { job: shake ? null : viewJob(await call.services.jobs.add(job)) };
  },

  readMadeFile: async ({ granted, request, response, services }) => {
    const made = need(granted.made);
    const role = String(request.params.role);
    const sendPicture = (sha256: string) =>
      sendBlob(request, response, services.blobs, sha256, { mimeType: 'image/jpeg', downloadName: null });
    if (role === 'poster') return sendPicture(need(made.posterSha256));
    const moment = /^moment-(\d)-(source|made)$/.exec(role);
    if (moment) {
      const pair = need(made.moments?.[Number(moment[1])]);
      return sendPicture(moment[2] === 'source' ? pair.sourceSha256 : pair.madeSha256);
    }
    if (role !== 'file') throw new ApodixError('NOT_FOUND');
    return sendBlob(request, response, services.blobs, made.sha256, {
      mimeType: containerTable[made.facts.container].mimeType,
      downloadName: request.query.save === undefined ? null : made.fileName,
    });
  },

  renameMade: async ({ granted, body, services }) => {
    const [person, made] = [need(granted.person), need(granted.made)];
    await requireNotHandedIn(person.id, [made.id]);
    const ending = containerTable[made.facts.container].endings[0] ?? '';
    const fileName = buildSafeFileName(body.stem.replace(new RegExp(`\\.${ending}$`, 'i'), ''), ending);
    const work = await loadWork(person, need(await AssignmentRow.findByPk(made.assignmentId)));
    const take = findTake(work, made.takeId)?.row;
    const slotId = take ? findSlotOf(placeWork(work), take) : null;
    const context = { limits: work.limits, nameContext: findNameContext(work), slotId };
    await transact(services.sequelize, async (transaction) => {
      made.fileName = fileName;
      await made.update({ fileName, findings: judgeAnew(made, take, context) }, { transaction });
      if (isEveryMustMet(made.findings) && !work.parcel.items.some((item) => item.madeId === made.id))
        await putIntoParcel(made, transaction);
    });
    services.live.tell(person.id, { type: 'work', assignmentId: made.assignmentId });
    return { isDone: true };
  },

  removeMade: async ({ granted, services }) => {
    const made = need(granted.made);
    await requireNotHandedIn(made.personId, [made.id]);
    await made.update({ removedAt: new Date() });
    services.live.tell(made.personId, { type: 'work', assignmentId: made.assignmentId });
    return { isDone: true };
  },

  restoreMade: async ({ granted, services }) => {
    const made = need(granted.made);
    const { takeId, assignmentId, inputHash } = made;
    await transact(services.sequelize, async (transaction) => {
      // Made again in the meantime: the one that is there stays.
      const where = { takeId, assignmentId, inputHash, removedAt: null };
      if (await MadeRow.findOne({ where, transaction })) return;
      await made.update({ removedAt: null }, { transaction });
    });
    services.live.tell(made.personId, { type: 'work', assignmentId });
    return { isDone: true };
  },

  readJob: ({ granted }) => Promise.resolve(viewJob(need(granted.job))),
  cancelJob: async ({ granted, services }) => viewJob(need(await services.jobs.cancel(need(granted.job).id))),
};
