import {
  ApodixError,
  buildSafeFileName,
  containerTable,
  isEveryMustMet,
  isHeld,
  isSameRecipe,
  isStillKind,
  judgeMade,
  Receipt,
  type RouteName,
} from '@apodix/core';
import { randomUUID } from 'node:crypto';
import type { Request, Response } from 'express';
import type { z } from 'zod';
import { endSession, findCaller, startSession } from '../access/session.ts';
import type { Granted } from '../access/guards.ts';
import { writeAudit } from '../assignments/audit.ts';
import {
  buildNameContext,
  findAssignmentsOf,
  loadWork,
  loadWorks,
  findSlotOf,
  planTake,
  readOrigin,
  viewAssignment,
  viewCard,
} from '../assignments/load-work.ts';
import { listBlobsOfMade, releaseBlobs } from '../blobs/release-blobs.ts';
import {
  AssignmentRow,
  BriefRow,
  EnrolmentRow,
  HandInRow,
  JobRow,
  MadeRow,
  ParcelRow,
  PersonRow,
  RecipeRow,
  TakeRow,
} from '../data/models.ts';
import { transact } from '../data/transact.ts';
import { hashInput } from '../jobs/hash-input.ts';
import { pressHandIn } from '../hand-in/press-hand-in.ts';
import { planSampleJob, putIntoParcel } from '../jobs/job-handlers.ts';
import { viewJob } from '../jobs/job-runner.ts';
import type { Services } from '../services.ts';
import { findCalendarToken, writeCalendar } from '../assignments/calendar.ts';
import { keepLimits, removeOwnAssignment } from '../assignments/own-assignment.ts';
import { buildOwnSlots } from '../assignments/own-slots.ts';
import { followEvents } from './follow-events.ts';
import { sendBlob } from './send-blob.ts';

export interface Call<B = unknown> {
  readonly granted: Granted;
  readonly body: B;
  readonly request: Request;
  readonly response: Response;
  readonly services: Services;
}
type Routes = typeof import('@apodix/core').routes;
type BodyOf<N extends RouteName> = Routes[N]['body'] extends z.ZodType ? z.infer<Routes[N]['body']> : null;
/** Gives the JSON answer; undefined where it has answered by itself. */
export type Handlers = { readonly [N in RouteName]: (call: Call<BodyOf<N>>) => Promise<unknown> };

function need<T>(value: T | null | undefined): T {
  if (value === null || value === undefined) throw new ApodixError('NOT_FOUND');
  return value;
}

const viewPerson = ({ id, displayName, firstName, surname, candidateNumber, role }: PersonRow) => ({
  id,
  displayName,
  firstName,
  surname,
  candidateNumber,
  role,
});

export const handlers: Handlers = {
  health: () => Promise.resolve({ isReady: true }),

  listPeople: async () => {
    const students = new Set(
      (await EnrolmentRow.findAll({ where: { role: 'student' } })).map((row) => row.personId),
    );
    return {
      people: (await PersonRow.findAll()).filter((person) => students.has(person.id)).map(viewPerson),
    };
  },

  readSession: async ({ request }) => {
    const person = await findCaller(request);
    return { person: person ? viewPerson(person) : null };
  },

  signIn: async ({ body, response, services }) => {
    const person = await PersonRow.findByPk(body.personId);
    if (!person || person.role === 'guest') throw new ApodixError('NOT_FOUND');
    await startSession(response, person.id, services.settings.APODIX_SESSION_HOURS);
    return { person: viewPerson(person) };
  },

  signInAsGuest: async ({ request, response, services }) => {
    const caller = await findCaller(request);
    if (caller) return { person: viewPerson(caller) };
    const person = await PersonRow.create({
      id: `guest-${randomUUID()}`,
      displayName: 'Guest',
      firstName: '',
      surname: '',
      candidateNumber: null,
      role: 'guest',
    });
    await startSession(response, person.id, services.settings.APODIX_SESSION_HOURS);
    return { person: viewPerson(person) };
  },

  signOut: async ({ request, response }) => {
    await endSession(request, response);
    return { isDone: true };
  },

  readToday: async ({ granted }) => {
    const person = need(granted.person);
    const works = await loadWorks(person, await findAssignmentsOf(person));
    return { now: new Date().toISOString(), assignments: works.map(viewCard) };
  },

  followEvents: ({ granted, request, response, services }) => {
    followEvents(services.live, need(granted.person).id, request, response);
    return Promise.resolve(undefined);
  },

  createAssignment: async ({ granted, body }) => {
    const person = need(granted.person);
    const assignment = await AssignmentRow.create({
      id: `own-${randomUUID()}`,
      kind: body.kind,
      courseId: null,
      ownerId: person.id,
      title: body.title,
      instructions: body.instructions,
      limits: body.limits,
      slots: buildOwnSlots(body.limits),
      materials: [],
      rubric: [],
      points: null,
      attemptsAllowed: null,
      isLateAllowed: true,
      setAt: new Date(),
      dueAt: body.dueAt === null ? null : new Date(body.dueAt),
      coverSha256: null,
      dueByGroup: [],
    });
    return viewAssignment(await loadWork(person, assignment));
  },

  readAssignment: async ({ granted }) =>
    viewAssignment(await loadWork(need(granted.person), need(granted.assignment))),

  writeLimits: async ({ granted, body, services }) => {
    const [person, assignment] = [need(granted.person), need(granted.assignment)];
    await keepLimits(person, assignment, body);
    services.live.tell(person.id, { type: 'work', assignmentId: assignment.id });
    return viewAssignment(await loadWork(person, assignment));
  },

  resetLimits: async ({ granted, services }) => {
    const [person, assignment] = [need(granted.person), need(granted.assignment)];
    await BriefRow.destroy({ where: { personId: person.id, assignmentId: assignment.id } });
    services.live.tell(person.id, { type: 'work', assignmentId: assignment.id });
    return viewAssignment(await loadWork(person, assignment));
  },

  removeAssignment: async ({ granted, services }) => {
    await removeOwnAssignment(need(granted.assignment), services);
    return { isDone: true };
  },

  readCalendarLink: async ({ granted }) => ({
    path: `/api/calendar/${await findCalendarToken(need(granted.person))}`,
  }),
  readCalendar: async ({ request, response }) => {
    response
      .type('text/calendar; charset=utf-8')
      .attachment('apodix.ics')
      .send(await writeCalendar(String(request.params.token)));
    return undefined;
  },

  writeParcel: async ({ granted, body }) => {
    const [person, assignment] = [need(granted.person), need(granted.assignment)];
    const work = await loadWork(person, assignment);
    const isKnown = body.items.every(
      (item) =>
        work.made.some((row) => row.id === item.madeId) &&
        assignment.slots.some((slot) => slot.id === item.slotId),
    );
    if (!isKnown || new Set(body.items.map((item) => item.madeId)).size !== body.items.length)
      throw new ApodixError('BAD_REQUEST', {
        detail: 'The parcel names a file or slot that is not there, or one file twice.',
      });
    await ParcelRow.upsert({ personId: person.id, assignmentId: assignment.id, parcel: body });
    return viewAssignment(await loadWork(person, assignment));
  },

  handIn: async ({ granted, services }) =>
    viewJob(await pressHandIn(need(granted.person), need(granted.assignment), services)),

  writeRecipe: async ({ granted, body, services }) => {
    const take = need(granted.take);
    return transact(services.sequelize, async (transaction) => {
      const newest = await RecipeRow.findOne({
        where: { takeId: take.id },
        order: [['version', 'DESC']],
        transaction,
      });
      const version = newest?.version ?? 0;
      if (newest && isSameRecipe(newest.recipe, body.recipe)) {
        if (!take.isShaped) await take.update({ isShaped: true }, { transaction });
        return { version, recipe: newest.recipe };
      }
      if (version !== body.baseVersion) throw new ApodixError('CHANGED_MEANWHILE');
      const endUs = take.facts?.durationUs ?? null;
      if (endUs !== null && body.recipe.spans.some((span) => span.startUs >= endUs))
        throw new ApodixError('BAD_REQUEST', { detail: 'The start lies after the end of the take.' });
      await RecipeRow.create(
        { takeId: take.id, version: version + 1, recipe: body.recipe, createdAt: new Date() },
        { transaction },
      );
      await take.update({ isShaped: true }, { transaction });
      return { version: version + 1, recipe: body.recipe };
    });
  },

  chooseTake: async ({ granted, body, services }) => {
    const take = need(granted.take);
    if ('choice' in body) {
      await take.update({ choice: body.choice });
      services.live.tell(take.personId, { type: 'work', assignmentId: take.assignmentId });
      return { isDone: true };
    }
    if (take.state !== 'ready') throw new ApodixError('BAD_REQUEST', { detail: 'This take cannot be used.' });
    await transact(services.sequelize, async (transaction) => {
      await TakeRow.update(
        { isChosen: false },
        { where: { personId: take.personId, assignmentId: take.assignmentId }, transaction },
      );
      await take.update({ isChosen: true }, { transaction });
      await writeAudit(take.personId, take.assignmentId, `Chose ${take.name}`, transaction);
    });
    services.live.tell(take.personId, { type: 'work', assignmentId: take.assignmentId });
    return { isDone: true };
  },

  removeTake: async ({ granted, services }) => {
    const take = need(granted.take);
    const made = await MadeRow.findAll({ where: { takeId: take.id } });
    await requireNotHandedIn(
      take,
      made.map((row) => row.id),
    );
    for (const job of await JobRow.findAll({ where: { takeId: take.id, state: ['waiting', 'running'] } }))
      await services.jobs.cancel(job);
    await transact(services.sequelize, async (transaction) => {
      await MadeRow.destroy({ where: { takeId: take.id }, transaction });
      await take.destroy({ transaction });
      if (take.isChosen)
        await TakeRow.findOne({
          where: { personId: take.personId, assignmentId: take.assignmentId, state: 'ready' },
          order: [['createdAt', 'DESC']],
          transaction,
        }).then((next) => next?.update({ isChosen: true }, { transaction }));
    });
    await releaseBlobs(services.blobs, [
      take.sha256,
      take.proxySha256,
      take.stripSha256,
      take.posterSha256,
      take.intermediateSha256,
      take.seriesSha256 ?? null,
      take.evidenceSha256 ?? null,
      ...made.flatMap(listBlobsOfMade),
    ]);
    services.live.tell(take.personId, { type: 'work', assignmentId: take.assignmentId });
    return { isDone: true };
  },

  makeFile: async ({ granted, services }) => {
    const [person, take] = [need(granted.person), need(granted.take)];
    const work = await loadWork(person, need(await AssignmentRow.findByPk(take.assignmentId)));
    const planned = await planTake(work, take, services.series);
    if (!planned) throw new ApodixError('BAD_REQUEST', { detail: 'This take has not been measured yet.' });
    const { result, inputHash } = planned;
    if (!result.plan || result.refusals.length > 0) return { job: null, refusals: result.refusals };
    if (await MadeRow.findOne({ where: { takeId: take.id, inputHash } }))
      return { job: null, refusals: result.refusals };
    const job = await services.jobs.add({
      kind: 'make',
      personId: person.id,
      takeId: take.id,
      assignmentId: take.assignmentId,
      input: { plan: result.plan, inputHash },
      // The same recording may have been brought in for several assignments.
      inputHash: hashInput({ takeId: take.id, inputHash }),
    });
    return { job: viewJob(job), refusals: result.refusals };
  },

  sampleTake: async ({ granted, services }) => {
    const [person, take] = [need(granted.person), need(granted.take)];
    const work = await loadWork(person, need(await AssignmentRow.findByPk(take.assignmentId)));
    const wanted = await planSampleJob(take, work, services.series);
    return { job: wanted ? viewJob(await services.jobs.add(wanted)) : null };
  },

  readTakeFile: async ({ granted, request, response, services }) => {
    const take = need(granted.take);
    const isPhoto = isStillKind(take.kind);
    const files: Record<string, [string | null, string]> = {
      source: [
        take.sha256,
        take.facts ? containerTable[take.facts.container].mimeType : 'application/octet-stream',
      ],
      proxy: [take.proxySha256, isPhoto ? 'image/jpeg' : 'video/mp4'],
      strip: [take.stripSha256, 'image/jpeg'],
      poster: [take.posterSha256, 'image/jpeg'],
      series: [take.seriesSha256 ?? null, 'application/octet-stream'],
    };
    const [sha256, mimeType] = need(files[String(request.params.role)]);
    return sendBlob(request, response, services.blobs, need(sha256), {
      mimeType,
      downloadName: request.params.role === 'source' ? take.name : null,
    });
  },

  readMadeFile: async ({ granted, request, response, services }) => {
    const made = need(granted.made);
    const { role } = request.params;
    if (role === 'poster')
      return sendBlob(request, response, services.blobs, need(made.posterSha256), {
        mimeType: 'image/jpeg',
        downloadName: null,
      });
    const moment = /^moment-(\d)-(source|made)$/.exec(String(role));
    if (moment) {
      const pair = need(made.moments?.[Number(moment[1])]);
      return sendBlob(
        request,
        response,
        services.blobs,
        moment[2] === 'source' ? pair.sourceSha256 : pair.madeSha256,
        { mimeType: 'image/jpeg', downloadName: null },
      );
    }
    if (role !== 'file') throw new ApodixError('NOT_FOUND');
    return sendBlob(request, response, services.blobs, made.sha256, {
      mimeType: containerTable[made.facts.container].mimeType,
      downloadName: request.query.save === undefined ? null : made.fileName,
    });
  },

  renameMade: async ({ granted, body, services }) => {
    const [person, made] = [need(granted.person), need(granted.made)];
    if (made.personId !== person.id) throw new ApodixError('NOT_ALLOWED');
    await requireNotHandedIn(made, [made.id]);
    const ending = containerTable[made.facts.container].endings[0] ?? '';
    const fileName = buildSafeFileName(body.stem.replace(new RegExp(`\\.${ending}$`, 'i'), ''), ending);
    const work = await loadWork(person, need(await AssignmentRow.findByPk(made.assignmentId)));
    const take = await TakeRow.findByPk(made.takeId);
    const slotId = take ? findSlotOf(work, take) : null;
    await transact(services.sequelize, async (transaction) => {
      const proof = made.findings.filter((finding) => finding.of === 'proof');
      await made.update(
        {
          fileName,
          findings: [
            ...judgeMade(made.facts, fileName, readOrigin(made, take ?? undefined), {
              limits: work.limits,
              nameContext: buildNameContext(work),
              slotId,
            }),
            ...proof,
          ],
        },
        { transaction },
      );
      if (isEveryMustMet(made.findings) && !work.parcel.items.some((item) => item.madeId === made.id))
        await putIntoParcel(made, transaction);
    });
    services.live.tell(person.id, { type: 'work', assignmentId: made.assignmentId });
    return { isDone: true };
  },

  removeMade: async ({ granted, services }) => {
    const [person, made] = [need(granted.person), need(granted.made)];
    if (made.personId !== person.id) throw new ApodixError('NOT_ALLOWED');
    await requireNotHandedIn(made, [made.id]);
    await made.destroy();
    await releaseBlobs(services.blobs, listBlobsOfMade(made));
    services.live.tell(made.personId, { type: 'work', assignmentId: made.assignmentId });
    return { isDone: true };
  },

  readJob: ({ granted }) => Promise.resolve(viewJob(need(granted.job))),
  cancelJob: async ({ granted, services }) => viewJob(await services.jobs.cancel(need(granted.job))),
  readReceipt: ({ granted }) => Promise.resolve(Receipt.parse(need(granted.receipt).receipt)),
};

async function requireNotHandedIn(
  work: { personId: string; assignmentId: string },
  madeIds: readonly string[],
): Promise<void> {
  const handIns = await HandInRow.findAll({
    where: { personId: work.personId, assignmentId: work.assignmentId },
  });
  if (
    handIns.some(
      (row) =>
        (row.state === 'on-its-way' || isHeld(row.state)) &&
        row.frozen.files.some((file) => madeIds.includes(file.madeId)),
    )
  )
    throw new ApodixError('IN_USE');
}
