import { ApodixError } from '@apodix/core';
import type { Request } from 'express';
import { grant } from '../access/guards.ts';
import { AssignmentRow } from '../data/models.ts';
import { need, type Handlers } from '../routing/call.ts';
import type { Services } from '../services/services.ts';
import { loadWork } from '../work/load-work.ts';
import { isReachable, listAddresses } from './list-addresses.ts';
import { clearPhoneCookie, readPhoneSecret, writePhoneCookie } from './phone-cookie.ts';
import { endPhoneLink, findSender, makePhoneLink, openPhoneLink, type Sender } from './phone-links.ts';

export const phonesRoutes: Handlers<'makePhoneLink' | 'openPhoneLink' | 'readPhoneSender' | 'endPhoneLink'> =
  {
    makePhoneLink: async ({ granted, body, request, services }) => {
      const person = need(granted.person);
      const { assignmentId } = body;
      if (assignmentId !== null) await grant('assignment', person, { assignmentId }, services);
      const { token, expiresAt } = await makePhoneLink(person.id, assignmentId);
      const { APODIX_HOST: host } = services.settings;
      const path = `/phone/${token}`;
      const port = request.socket.localPort ?? services.settings.APODIX_PORT;
      const addresses = listAddresses(host, port, request.secure ? 'https' : 'http');
      return {
        path,
        addresses: addresses.map((address) => `${address}${path}`),
        isReachable: isReachable(host),
        expiresAt: expiresAt.toISOString(),
      };
    },

    openPhoneLink: async ({ body, request, response, services }) => {
      const { secret, sender } = await openPhoneLink(body.token);
      writePhoneCookie(request, response, secret, sender.expiresAt);
      return viewSender(sender, services);
    },

    readPhoneSender: async ({ request, services }) => viewSender(await requireSender(request), services),

    endPhoneLink: async ({ request, response }) => {
      await endPhoneLink(readPhoneSecret(request.headers.cookie));
      clearPhoneCookie(request, response);
      return { isDone: true };
    },
  };

async function requireSender(request: Request): Promise<Sender> {
  const sender = await findSender(readPhoneSecret(request.headers.cookie));
  if (!sender) throw new ApodixError('PHONE_LINK_ENDED');
  return sender;
}

/** No more than the phone needs: a first name, and what is asked for. */
async function viewSender({ person, assignmentId, expiresAt }: Sender, { settings }: Services) {
  const assignment = assignmentId === null ? null : await AssignmentRow.findByPk(assignmentId);
  const work = assignment && (await loadWork(person, assignment));
  return {
    personId: person.id,
    firstName: person.firstName || 'a guest',
    assignmentId: assignment?.id ?? null,
    assignmentTitle: assignment?.title ?? null,
    limits: work?.limits ?? [],
    slots: assignment?.slots ?? [],
    expiresAt: expiresAt.toISOString(),
    locale: settings.APODIX_LOCALE,
  };
}
