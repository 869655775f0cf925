import { z } from 'zod';
import { Receipt } from '../handin/receipt.ts';
import { Seen } from '../presence/seen.ts';
import * as schema from './schemas.ts';

/**
 * Who may call a route. `anyone` needs no session; `person` any session, guests included; the others name the
 * thing in the path that has to belong to the caller (or, where it says so, that the caller teaches).
 */
export type Access =
  | 'anyone'
  | 'person'
  | 'assignment'
  | 'own-assignment'
  | 'removed-assignment'
  | 'assignment-take'
  | 'take'
  | 'card'
  | 'removed-take'
  | 'made'
  | 'own-made'
  | 'removed-made'
  | 'job'
  | 'receipt';

export interface Route {
  readonly method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  /** In Express form; parameters are ids unless the server parses them otherwise. */
  readonly path: string;
  readonly access: Access;
  readonly body: z.ZodType | null;
  /** null for streams and files. */
  readonly answer: z.ZodType | null;
  readonly purpose: string;
}

/** Every route of the HTTP API; the server refuses to start where one has no handler. */
export const routes = {
  health: {
    method: 'GET',
    path: '/api/health',
    access: 'anyone',
    body: null,
    answer: z.object({ isReady: z.boolean() }),
    purpose: 'Tells whether the server is up.',
  },
  listPeople: {
    method: 'GET',
    path: '/api/people',
    access: 'anyone',
    body: null,
    answer: schema.PeopleView,
    purpose: 'The demo people to sign in as.',
  },
  readSession: {
    method: 'GET',
    path: '/api/session',
    access: 'anyone',
    body: null,
    answer: schema.SessionView,
    purpose: 'Who is signed in.',
  },
  signIn: {
    method: 'POST',
    path: '/api/session',
    access: 'anyone',
    body: schema.SignInInput,
    answer: schema.SessionView,
    purpose: 'Signs in as a demo person.',
  },
  signInAsGuest: {
    method: 'POST',
    path: '/api/session/guest',
    access: 'anyone',
    body: null,
    answer: schema.SessionView,
    purpose: 'Starts a session without an account, for Quick fit.',
  },
  signOut: {
    method: 'DELETE',
    path: '/api/session',
    access: 'person',
    body: null,
    answer: schema.Done,
    purpose: 'Ends the session.',
  },
  readToday: {
    method: 'GET',
    path: '/api/today',
    access: 'person',
    body: null,
    answer: schema.TodayView,
    purpose: 'All assignments with their state and next step.',
  },
  followEvents: {
    method: 'GET',
    path: '/api/events',
    access: 'person',
    body: null,
    answer: null,
    purpose: 'Server-sent events about the caller’s own jobs and work.',
  },
  createAssignment: {
    method: 'POST',
    path: '/api/assignments',
    access: 'person',
    body: schema.OwnAssignmentInput,
    answer: schema.AssignmentView,
    purpose: 'Makes an assignment of one’s own, or a Quick fit.',
  },
  readAssignment: {
    method: 'GET',
    path: '/api/assignments/:assignmentId',
    access: 'assignment',
    body: null,
    answer: schema.AssignmentView,
    purpose: 'One assignment with all of the caller’s work on it.',
  },
  writeLimits: {
    method: 'PUT',
    path: '/api/assignments/:assignmentId/limits',
    access: 'assignment',
    body: schema.LimitsInput,
    answer: schema.AssignmentView,
    purpose: 'Keeps limits as the person has checked and corrected them.',
  },
  resetLimits: {
    method: 'DELETE',
    path: '/api/assignments/:assignmentId/limits',
    access: 'assignment',
    body: null,
    answer: schema.AssignmentView,
    purpose: 'Takes the course’s own limits and text back.',
  },
  removeAssignment: {
    method: 'DELETE',
    path: '/api/assignments/:assignmentId',
    access: 'own-assignment',
    body: null,
    answer: schema.Done,
    purpose: 'Removes an assignment of one’s own; it can be brought back for a day.',
  },
  restoreAssignment: {
    method: 'POST',
    path: '/api/assignments/:assignmentId/restore',
    access: 'removed-assignment',
    body: null,
    answer: schema.Done,
    purpose: 'Brings a removed assignment of one’s own back.',
  },
  confirmChanges: {
    method: 'POST',
    path: '/api/assignments/:assignmentId/changes',
    access: 'assignment',
    body: null,
    answer: schema.Done,
    purpose: 'Notes that the person has seen what the teacher changed.',
  },
  readCalendarLink: {
    method: 'GET',
    path: '/api/calendar',
    access: 'person',
    body: null,
    answer: schema.CalendarLink,
    purpose: 'Whether the caller has a calendar address; the address itself is told once.',
  },
  makeCalendarLink: {
    method: 'POST',
    path: '/api/calendar',
    access: 'person',
    body: null,
    answer: schema.NewCalendarLink,
    purpose: 'Makes a new calendar address; an earlier one stops to work.',
  },
  removeCalendarLink: {
    method: 'DELETE',
    path: '/api/calendar',
    access: 'person',
    body: null,
    answer: schema.Done,
    purpose: 'Ends the calendar address.',
  },
  readCalendar: {
    method: 'GET',
    path: '/api/calendar/:token',
    access: 'anyone',
    body: null,
    answer: null,
    purpose: 'Due times as iCalendar (RFC 5545); the token in the address is the key.',
  },
  writeParcel: {
    method: 'PUT',
    path: '/api/assignments/:assignmentId/parcel',
    access: 'assignment',
    body: schema.ParcelInput,
    answer: schema.AssignmentView,
    purpose: 'Keeps the draft of the hand-in.',
  },
  handIn: {
    method: 'POST',
    path: '/api/assignments/:assignmentId/hand-in',
    access: 'assignment',
    body: null,
    answer: schema.JobView,
    purpose: 'Freezes the parcel and delivers it.',
  },
  noteByHand: {
    method: 'POST',
    path: '/api/assignments/:assignmentId/by-hand',
    access: 'assignment',
    body: schema.ByHandInput,
    answer: schema.AssignmentView,
    purpose: 'Notes that the work was given to the teacher by hand.',
  },
  takeBack: {
    method: 'POST',
    path: '/api/assignments/:assignmentId/take-back',
    access: 'assignment',
    body: null,
    answer: schema.AssignmentView,
    purpose: 'Takes back what was handed in and nobody has begun to check.',
  },
  writeRecipe: {
    method: 'PUT',
    path: '/api/takes/:takeId/recipe',
    access: 'take',
    body: schema.RecipeInput,
    answer: schema.RecipeVersion,
    purpose: 'Keeps a new version of the recipe.',
  },
  listTakes: {
    method: 'GET',
    path: '/api/takes',
    access: 'person',
    body: null,
    answer: schema.OwnTakesView,
    purpose: 'All takes of the caller, whatever they serve.',
  },
  useTake: {
    method: 'PUT',
    path: '/api/assignments/:assignmentId/takes/:takeId',
    access: 'assignment-take',
    body: null,
    answer: schema.AssignmentView,
    purpose: 'Uses a take of one’s own for this assignment too.',
  },
  leaveTake: {
    method: 'DELETE',
    path: '/api/assignments/:assignmentId/takes/:takeId',
    access: 'assignment-take',
    body: null,
    answer: schema.AssignmentView,
    purpose: 'Uses a take for this assignment no longer; the take stays.',
  },
  chooseTake: {
    method: 'PATCH',
    path: '/api/assignments/:assignmentId/takes/:takeId',
    access: 'assignment-take',
    body: schema.TakeInput,
    answer: schema.Done,
    purpose: 'Chooses the take to go on with, or how it is to be made.',
  },
  removeTake: {
    method: 'DELETE',
    path: '/api/takes/:takeId',
    access: 'take',
    body: null,
    answer: schema.Done,
    purpose: 'Removes a take that was not handed in; it can be brought back for a day.',
  },
  restoreTake: {
    method: 'POST',
    path: '/api/takes/:takeId/restore',
    access: 'removed-take',
    body: null,
    answer: schema.Done,
    purpose: 'Brings a removed take back.',
  },
  makeFile: {
    method: 'POST',
    path: '/api/assignments/:assignmentId/takes/:takeId/make',
    access: 'assignment-take',
    body: null,
    answer: schema.MadeStarted,
    purpose: 'Makes and proves the file.',
  },
  sampleTake: {
    method: 'POST',
    path: '/api/assignments/:assignmentId/takes/:takeId/samples',
    access: 'assignment-take',
    body: null,
    answer: schema.SamplesStarted,
    purpose: 'Takes short samples of a take where those that Fit needs are not there yet.',
  },
  changeTake: {
    method: 'PATCH',
    path: '/api/takes/:takeId',
    access: 'take',
    body: schema.TakeChange,
    answer: schema.Done,
    purpose: 'Gives a take another name, or a note.',
  },
  writeSeen: {
    method: 'PUT',
    path: '/api/takes/:takeId/seen',
    access: 'take',
    body: Seen,
    answer: schema.Done,
    purpose: 'Keeps what the person’s own machine saw of them along the take: letters, no pictures.',
  },
  writeVoice: {
    method: 'PUT',
    path: '/api/takes/:takeId/voice',
    access: 'take',
    body: schema.VoiceInput,
    answer: schema.Done,
    purpose: 'Keeps a spoken note about a take, or takes it away.',
  },
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
  readTakeFile: {
    method: 'GET',
    path: '/api/takes/:takeId/files/:role',
    access: 'take',
    body: null,
    answer: null,
    purpose: 'The take itself, its proxy, strip or poster.',
  },
  readMadeFile: {
    method: 'GET',
    path: '/api/made/:madeId/files/:role',
    access: 'made',
    body: null,
    answer: null,
    purpose: 'A made file or its poster.',
  },
  renameMade: {
    method: 'PATCH',
    path: '/api/made/:madeId',
    access: 'own-made',
    body: schema.MadeInput,
    answer: schema.Done,
    purpose: 'Gives a made file another name; its bytes stay.',
  },
  removeMade: {
    method: 'DELETE',
    path: '/api/made/:madeId',
    access: 'own-made',
    body: null,
    answer: schema.Done,
    purpose: 'Removes a made file that was not handed in; it can be brought back for a day.',
  },
  restoreMade: {
    method: 'POST',
    path: '/api/made/:madeId/restore',
    access: 'removed-made',
    body: null,
    answer: schema.Done,
    purpose: 'Brings a removed made file back.',
  },
  readJob: {
    method: 'GET',
    path: '/api/jobs/:jobId',
    access: 'job',
    body: null,
    answer: schema.JobView,
    purpose: 'Stage, share and time left of a job.',
  },
  cancelJob: {
    method: 'POST',
    path: '/api/jobs/:jobId/cancel',
    access: 'job',
    body: null,
    answer: schema.JobView,
    purpose: 'Stops a job.',
  },
  readReceipt: {
    method: 'GET',
    path: '/api/receipts/:receiptId',
    access: 'receipt',
    body: null,
    answer: Receipt,
    purpose: 'The signed receipt of a hand-in.',
  },
  readPublicKey: {
    method: 'GET',
    path: '/api/receipt-key',
    access: 'anyone',
    body: null,
    answer: schema.PublicKeyView,
    purpose: 'The public key that receipts are checked with.',
  },
  readApi: {
    method: 'GET',
    path: '/api/openapi.json',
    access: 'anyone',
    body: null,
    answer: null,
    purpose: 'This table as an OpenAPI 3.1 document.',
  },
} as const satisfies Record<string, Route>;

export type RouteName = keyof typeof routes;
export type AnswerOf<N extends RouteName> = (typeof routes)[N]['answer'] extends z.ZodType
  ? z.infer<(typeof routes)[N]['answer']>
  : never;
export type BodyOf<N extends RouteName> = (typeof routes)[N]['body'] extends z.ZodType
  ? z.infer<(typeof routes)[N]['body']>
  : null;

/**
 * Where uploads go (tus 1.0.0); not in the table because the protocol has its own methods. Access: `person`,
 * and only one's own uploads.
 */
export const UPLOAD_PATH = '/api/uploads';
/** With the last bytes of an upload: the SHA-256 of the whole file, as its sender worked it out. */
export const SHA256_HEADER = 'x-apodix-sha256';
