import { ApodixError, containerTable, isSameRecipe, isStillKind, type OwnTakeView } from '@apodix/core';
import { layOutCard } from '@apodix/engine';
import { Op } from 'sequelize';
import { AssignmentRow, MadeRow, RecipeRow, TakeRow, TakeUseRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import { requireNotHandedIn } from '../hand-in/require-not-handed-in.ts';
import { followChange } from '../making/ahead-job.ts';
import { need, type Handlers } from '../routing/call.ts';
import { sendBlob } from '../routing/send-blob.ts';
import { loadWork } from '../work/load-work.ts';
import { tellOfTake } from '../work/tell-work.ts';
import { viewAssignment } from '../work/view-assignment.ts';
import { buildTakeUrls } from '../work/view-take.ts';
import { writeAudit } from '../work/write-audit.ts';
import { findQuota, sumUsedBytes } from './quota.ts';
import { chooseAnother, useTake } from './take-uses.ts';
import { alignTakes } from './align-takes.ts';
import { mergeTakes } from './merge-takes.ts';
import { takeStill } from './take-still.ts';
import { grant } from '../access/guards.ts';
import { keepVoice } from './keep-voice.ts';

export const takesRoutes: Handlers<
  | 'listTakes'
  | 'useTake'
  | 'leaveTake'
  | 'chooseTake'
  | 'writeRecipe'
  | 'removeTake'
  | 'restoreTake'
  | 'readTakeFile'
  | 'changeTake'
  | 'writeSeen'
  | 'writeVoice'
  | 'takeStill'
  | 'mergeShots'
  | 'alignTake'
  | 'drawCard'
> = {
  listTakes: async ({ granted, services }) => {
    const person = need(granted.person);
    const takes = await TakeRow.findAll({
      where: { personId: person.id, removedAt: null },
      order: [['createdAt', 'DESC']],
    });
    const uses = await TakeUseRow.findAll({ where: { personId: person.id } });
    const assignments = await AssignmentRow.findAll({
      where: { id: { [Op.in]: [...new Set(uses.map((use) => use.assignmentId))] }, removedAt: null },
      attributes: ['id', 'title'],
    });
    return {
      takes: takes.map((row): OwnTakeView => {
        const own = uses.filter((use) => use.takeId === row.id).map((use) => use.assignmentId);
        const served = assignments
          .filter(({ id }) => own.includes(id))
          .map(({ id, title }) => ({ id, title }));
        const { id, name, sizeBytes, state, kind, facts, fault } = row;
        return {
          id,
          name,
          origin: row.origin,
          note: row.note ?? null,
          sha256: row.sha256,
          createdAt: row.createdAt.toISOString(),
          sizeBytes,
          state,
          kind,
          facts,
          draft: row.draft ?? null,
          fault,
          assignmentIds: served.map((each) => each.id),
          assignments: served,
          ...buildTakeUrls(row),
        };
      }),
      usedBytes: await sumUsedBytes(person.id),
      quotaBytes: findQuota(person, services.settings),
    };
  },

  useTake: async ({ granted, services }) => {
    const [person, assignment, take] = [need(granted.person), need(granted.assignment), need(granted.take)];
    const work = await loadWork(person, assignment);
    await transact(services.sequelize, async (transaction) => {
      await useTake(take, work, transaction);
      await writeAudit(person.id, assignment.id, `Uses ${take.name} here too`, transaction);
    });
    await tellOfTake(services.live, take);
    return viewAssignment(await loadWork(person, assignment), services.jobs);
  },

  leaveTake: async ({ granted, services }) => {
    const [person, assignment, take] = [need(granted.person), need(granted.assignment), need(granted.take)];
    const use = need(granted.use);
    const where = { personId: person.id, assignmentId: assignment.id };
    const made = await MadeRow.findAll({ where: { ...where, takeId: take.id } });
    await requireNotHandedIn(
      person.id,
      made.map((row) => row.id),
    );
    await transact(services.sequelize, async (transaction) => {
      await use.destroy({ transaction });
      await chooseAnother(where, transaction);
    });
    services.live.tell(person.id, { type: 'work', assignmentId: assignment.id });
    services.live.tell(person.id, { type: 'takes' });
    return viewAssignment(await loadWork(person, assignment), services.jobs);
  },

  chooseTake: async ({ granted, body, services }) => {
    const [take, assignment, use] = [need(granted.take), need(granted.assignment), need(granted.use)];
    const where = { personId: take.personId, assignmentId: assignment.id };
    if ('choice' in body) await use.update({ choice: body.choice });
    else if ('isMadeAhead' in body) await use.update({ isMadeAhead: body.isMadeAhead });
    else {
      if (take.state !== 'ready' || use.fault)
        throw new ApodixError('BAD_REQUEST', { detail: 'This take cannot be used.' });
      await transact(services.sequelize, async (transaction) => {
        await TakeUseRow.update({ isChosen: false }, { where, transaction });
        // In the table: the row that was read may be chosen already, beside others, and would stay as it is.
        await TakeUseRow.update({ isChosen: true }, { where: { ...where, takeId: take.id }, transaction });
        await writeAudit(take.personId, assignment.id, `Chose ${take.name}`, transaction);
      });
    }
    await followChange(take, services, assignment.id);
    services.live.tell(take.personId, { type: 'work', assignmentId: assignment.id });
    return { isDone: true };
  },

  writeRecipe: async ({ granted, body, services }) => {
    const take = need(granted.take);
    const kept = await transact(services.sequelize, async (transaction) => {
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
    await followChange(take, services);
    await tellOfTake(services.live, take);
    return kept;
  },

  removeTake: async ({ granted, services }) => {
    const take = need(granted.take);
    const made = await MadeRow.findAll({ where: { takeId: take.id }, attributes: ['id'] });
    await requireNotHandedIn(
      take.personId,
      made.map((row) => row.id),
    );
    for (const job of await services.jobs.listOpen({ takeId: take.id })) await services.jobs.cancel(job.id);
    const removedAt = new Date();
    await transact(services.sequelize, async (transaction) => {
      await take.update({ removedAt }, { transaction });
      await MadeRow.update({ removedAt }, { where: { takeId: take.id, removedAt: null }, transaction });
      for (const { assignmentId } of await TakeUseRow.findAll({ where: { takeId: take.id }, transaction }))
        await chooseAnother({ personId: take.personId, assignmentId }, transaction);
    });
    await tellOfTake(services.live, take);
    return { isDone: true };
  },

  restoreTake: async ({ granted, services }) => {
    const take = need(granted.take);
    await transact(services.sequelize, async (transaction) => {
      const { removedAt } = take;
      await take.update({ removedAt: null }, { transaction });
      // What was removed with it comes back with it.
      await MadeRow.update({ removedAt: null }, { where: { takeId: take.id, removedAt }, transaction });
    });
    await tellOfTake(services.live, take);
    return { isDone: true };
  },

  changeTake: async ({ granted, body, services }) => {
    const take = need(granted.take);
    await take.update({
      ...(body.name === undefined ? {} : { name: body.name }),
      ...(body.note === undefined ? {} : { note: body.note === '' ? null : body.note }),
    });
    await tellOfTake(services.live, take);
    return { isDone: true };
  },

  writeSeen: async ({ granted, body, services }) => {
    const take = need(granted.take);
    if (!take.facts) throw new ApodixError('NOT_READY', { detail: 'The take is still being measured.' });
    await take.update({ facts: { ...take.facts, seen: body }, seenAt: new Date() });
    await tellOfTake(services.live, take);
    return { isDone: true };
  },

  writeVoice: async ({ granted, body, services }) => {
    const take = need(granted.take);
    const before = take.voiceSha256 ?? null;
    await take.update({ voiceSha256: await keepVoice(body.dataBase64, services) });
    if (before !== null) await services.references.release([before]);
    await tellOfTake(services.live, take);
    return { isDone: true };
  },

  alignTake: async ({ granted, body, services }) => {
    const [take, person] = [need(granted.take), need(granted.person)];
    const other = await grant('take', person, { takeId: body.soundTakeId }, services);
    return alignTakes(take, need(other.take), services);
  },

  drawCard: ({ body }) => Promise.resolve({ svg: layOutCard(body.card, body) }),

  takeStill: async ({ granted, body, services }) => {
    const [take, person] = [need(granted.take), need(granted.person)];
    // What it is for is the caller's own, too.
    if (body.assignmentId !== null)
      await grant('assignment', person, { assignmentId: body.assignmentId }, services);
    const takeId = await takeStill(take, person, body, services);
    await tellOfTake(services.live, take);
    services.live.tell(person.id, { type: 'takes' });
    return { takeId };
  },

  mergeShots: async ({ granted, body, services }) => {
    const [take, person] = [need(granted.take), need(granted.person)];
    if (body.assignmentId !== null)
      await grant('assignment', person, { assignmentId: body.assignmentId }, services);
    const others: TakeRow[] = [];
    for (const takeId of body.takeIds)
      others.push(need((await grant('take', person, { takeId }, services)).take));
    const merged = await mergeTakes([take, ...others], person, body.assignmentId, services);
    await tellOfTake(services.live, take);
    services.live.tell(person.id, { type: 'takes' });
    return merged;
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
      voice: [take.voiceSha256 ?? null, 'audio/webm'],
    };
    const [sha256, mimeType] = need(files[String(request.params.role)]);
    return sendBlob(request, response, services.blobs, need(sha256), {
      mimeType,
      downloadName: request.params.role === 'source' ? take.name : null,
    });
  },
};
