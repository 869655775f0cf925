import { ApodixError } from '@apodix/core';
import { randomUUID } from 'node:crypto';
import { EnrolmentRow, PersonRow } from '../data/models.ts';
import type { Handlers } from '../routing/call.ts';
import { findCaller } from '../sessions/find-caller.ts';
import { clearSessionCookie, readSessionToken } from '../sessions/session-cookie.ts';
import { viewPerson } from '../work/view-person.ts';
import { startSession, viewSession } from './start-session.ts';

export const accountsRoutes: Handlers<
  'health' | 'listPeople' | 'readSession' | 'signIn' | 'signInAsGuest' | 'signOut'
> = {
  health: () => Promise.resolve({ isReady: true }),

  listPeople: async () => {
    const students = new Set(
      (await EnrolmentRow.findAll({ where: { role: 'student' } })).map((row) => row.personId),
    );
    return {
      people: (await PersonRow.findAll()).filter((person) => students.has(person.id)).map(viewPerson),
    };
  },

  readSession: async ({ request, services }) => {
    const person = await findCaller(services.sessions, request);
    return viewSession(person, services);
  },

  signIn: async (call) => {
    const { body, services } = call;
    const person = await PersonRow.findByPk(body.personId);
    if (!person || person.role === 'guest') throw new ApodixError('NOT_FOUND');
    await startSession(call, person, services.settings.APODIX_SESSION_HOURS);
    return viewSession(person, services);
  },

  signInAsGuest: async (call) => {
    const { request, services } = call;
    const caller = await findCaller(services.sessions, request);
    if (caller) return viewSession(caller, services);
    const person = await PersonRow.create({
      id: `guest-${randomUUID()}`,
      displayName: 'Guest',
      firstName: '',
      surname: '',
      candidateNumber: null,
      role: 'guest',
    });
    await startSession(call, person, services.settings.APODIX_GUEST_HOURS);
    return viewSession(person, services);
  },

  signOut: async ({ request, response, services }) => {
    const token = readSessionToken(request);
    if (token !== null) await services.sessions.end(token);
    clearSessionCookie(request, response);
    return { isDone: true };
  },
};
