import type { Route } from './route.ts';
import * as schema from './schemas.ts';

/** Phones that send for somebody, and cards for devices that are shared. */
export const sharingRoutes = {
  makePhoneLink: {
    method: 'POST',
    path: '/api/phone-links',
    access: 'person',
    body: schema.PhoneLinkInput,
    answer: schema.NewPhoneLink,
    purpose: 'Makes a link by which a phone can send takes for a while; each can be opened once.',
  },
  openPhoneLink: {
    method: 'POST',
    path: '/api/phone-links/open',
    access: 'anyone',
    body: schema.PhoneLinkOpen,
    answer: schema.PhoneSender,
    purpose: 'Opens a link on the phone: its token is used up, and a cookie takes its place.',
  },
  readPhoneSender: {
    method: 'GET',
    path: '/api/phone-links/mine',
    access: 'anyone',
    body: null,
    answer: schema.PhoneSender,
    purpose: 'For whom the phone with this cookie sends.',
  },
  endPhoneLink: {
    method: 'DELETE',
    path: '/api/phone-links/mine',
    access: 'anyone',
    body: null,
    answer: schema.Done,
    purpose: 'Ends the sending on this phone.',
  },
  listCards: {
    method: 'GET',
    path: '/api/cards',
    access: 'person',
    body: null,
    answer: schema.CardsView,
    purpose: 'Cards of oneself, and for a teacher those of the own courses.',
  },
  makeCards: {
    method: 'POST',
    path: '/api/cards',
    access: 'person',
    body: schema.CardsInput,
    answer: schema.NewCards,
    purpose: 'Makes cards to print; each code is told this once.',
  },
  withdrawCard: {
    method: 'DELETE',
    path: '/api/cards/:cardId',
    access: 'card',
    body: null,
    answer: schema.Done,
    purpose: 'Withdraws a card: it opens nothing any more.',
  },
  signInByCard: {
    method: 'POST',
    path: '/api/session/card',
    access: 'anyone',
    body: schema.CardSignIn,
    answer: schema.SessionView,
    purpose: 'Signs in whose card it is, on a device that is shared.',
  },
} as const satisfies Record<string, Route>;
