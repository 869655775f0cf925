import { ApodixError } from '@apodix/core';
import { Op } from 'sequelize';
import { PersonCardRow } from '../data/models.ts';
import { need, type Handlers } from '../routing/call.ts';
import { startSession, viewSession } from '../accounts/start-session.ts';
import { readSessionToken } from '../sessions/session-cookie.ts';
import { viewPerson } from '../work/view-person.ts';
import { findCardOwner, listCardPeople, makeCard, viewCard } from './person-cards.ts';

export const cardsRoutes: Handlers<'listCards' | 'makeCards' | 'withdrawCard' | 'signInByCard'> = {
  listCards: async ({ granted }) => {
    const people = await listCardPeople(need(granted.person));
    const cards = await PersonCardRow.findAll({
      where: { personId: { [Op.in]: people.map((each) => each.id) } },
      order: [['createdAt', 'DESC']],
    });
    return {
      people: people.map(viewPerson),
      cards: cards.flatMap((card) => {
        const owner = people.find((each) => each.id === card.personId);
        return owner ? [viewCard(card, owner)] : [];
      }),
    };
  },

  makeCards: async ({ granted, body }) => {
    const person = need(granted.person);
    const people = await listCardPeople(person);
    const owners = body.personIds.map((id) => people.find((each) => each.id === id));
    if (owners.some((owner) => owner === undefined)) throw new ApodixError('NOT_ALLOWED');
    const cards = [];
    for (const owner of owners) if (owner) cards.push(await makeCard(owner, person.id));
    return { cards };
  },

  withdrawCard: async ({ granted }) => {
    const card = need(granted.card);
    if (!card.withdrawnAt) await card.update({ withdrawnAt: new Date() });
    return { isDone: true };
  },

  signInByCard: async (call) => {
    const { body, request, services } = call;
    const person = await findCardOwner(body.code);
    // Whoever was signed in on this device before is not any more.
    const before = readSessionToken(request);
    if (before !== null) await services.sessions.end(before);
    await startSession(call, person, services.settings.APODIX_CARD_HOURS);
    return viewSession(person, services);
  },
};
