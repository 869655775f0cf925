import { randomUUID } from 'node:crypto';
import { AssignmentRow, BriefAnswersRow, BriefRow, ChangeMarkRow } from '../data/models.ts';
import { followEvents } from '../events/follow-events.ts';
import { followLimits } from '../making/ahead-job.ts';
import { need, type Handlers } from '../routing/call.ts';
import { loadCards } from '../work/load-cards.ts';
import { loadWork } from '../work/load-work.ts';
import { viewAssignment } from '../work/view-assignment.ts';
import { keepLimits, removeOwnAssignment, restoreOwnAssignment } from './own-assignment.ts';
import { buildOwnSlots } from './own-slots.ts';

export const assignmentsRoutes: Handlers<
  | 'readToday'
  | 'followEvents'
  | 'createAssignment'
  | 'readAssignment'
  | 'writeLimits'
  | 'resetLimits'
  | 'removeAssignment'
  | 'restoreAssignment'
  | 'confirmChanges'
> = {
  readToday: async ({ granted }) => ({
    now: new Date().toISOString(),
    assignments: await loadCards(need(granted.person)),
  }),

  followEvents: ({ granted, request, response, services }) => {
    followEvents(services.live, need(granted.person).id, request, response);
    return Promise.resolve(undefined);
  },

  createAssignment: async ({ granted, body, services }) => {
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
    if (Object.keys(body.answers).length > 0)
      await BriefAnswersRow.create({
        personId: person.id,
        assignmentId: assignment.id,
        answers: body.answers,
      });
    return viewAssignment(await loadWork(person, assignment), services.jobs);
  },

  readAssignment: async ({ granted, services }) =>
    viewAssignment(await loadWork(need(granted.person), need(granted.assignment)), services.jobs),

  writeLimits: async ({ granted, body, services }) => {
    const [person, assignment] = [need(granted.person), need(granted.assignment)];
    await keepLimits(person, assignment, body);
    await followLimits(assignment.id, services, person.id);
    services.live.tell(person.id, { type: 'work', assignmentId: assignment.id });
    return viewAssignment(await loadWork(person, assignment), services.jobs);
  },

  resetLimits: async ({ granted, services }) => {
    const [person, assignment] = [need(granted.person), need(granted.assignment)];
    const where = { personId: person.id, assignmentId: assignment.id };
    await BriefRow.destroy({ where });
    await BriefAnswersRow.destroy({ where });
    await followLimits(assignment.id, services, person.id);
    services.live.tell(person.id, { type: 'work', assignmentId: assignment.id });
    return viewAssignment(await loadWork(person, assignment), services.jobs);
  },

  removeAssignment: async ({ granted, services }) => {
    await removeOwnAssignment(need(granted.assignment), services);
    return { isDone: true };
  },

  restoreAssignment: async ({ granted, services }) => {
    await restoreOwnAssignment(need(granted.assignment), services);
    return { isDone: true };
  },

  confirmChanges: async ({ granted, services }) => {
    const [person, assignment] = [need(granted.person), need(granted.assignment)];
    await ChangeMarkRow.upsert({ personId: person.id, assignmentId: assignment.id, seenAt: new Date() });
    services.live.tell(person.id, { type: 'work', assignmentId: assignment.id });
    return { isDone: true };
  },
};
