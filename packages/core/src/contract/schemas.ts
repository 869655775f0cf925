import { z } from 'zod';
import { HandInState } from '../handin/hand-in-state.ts';
import { Slot, SlotAnswer, ParcelText } from '../handin/parcel.ts';
import { LimitsOrigin } from '../handin/receipt.ts';
import { Answers } from '../limits/answers.ts';
import { Finding, FindingState } from '../limits/finding.ts';
import { Limits } from '../limits/limit.ts';
import { Filmstrip } from '../media/analysis.ts';
import { MediaKind } from '../media/containers.ts';
import { MediaFacts, SoundFacts, VideoFacts } from '../media/facts.ts';
import { FitSamples } from '../fit/samples.ts';
import { Comparison } from '../proof/comparison.ts';
import { Refusal } from '../limits/refusal.ts';
import { Plan } from '../plan/plan.ts';
import { FitChoice } from '../recipe/fit-choice.ts';
import { Recipe } from '../recipe/recipe.ts';
import { Sheet } from '../sheet/sheet.ts';
import { SoundFaults } from '../sound/find-faults.ts';

export const Id = z.string().regex(/^[A-Za-z0-9_-]{1,64}$/);

export const Role = z.enum(['student', 'teacher', 'family', 'guest']);
export type Role = z.infer<typeof Role>;

export const Person = z.object({
  id: Id,
  displayName: z.string(),
  firstName: z.string(),
  surname: z.string(),
  candidateNumber: z.string().nullable(),
  role: Role,
});
export type Person = z.infer<typeof Person>;

export const Fault = z.object({
  code: z.string(),
  message: z.string(),
  next: z.string(),
  detail: z.string().optional(),
});
export type Fault = z.infer<typeof Fault>;

export const JobKind = z.enum(['inspect', 'shake', 'sample', 'ahead', 'make', 'sheet', 'deliver']);
export type JobKind = z.infer<typeof JobKind>;

export const JobView = z.object({
  id: Id,
  kind: JobKind,
  state: z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']),
  stage: z.string(),
  /** 0 to 1. */
  share: z.number(),
  secondsLeft: z.number().nullable(),
  takeId: Id.nullable(),
  assignmentId: Id.nullable(),
  fault: Fault.nullable(),
});
export type JobView = z.infer<typeof JobView>;

/** Where one person stands with one assignment, computed from what is there. */
export const WorkState = z.enum([
  'nothing-yet',
  'taken',
  'shaped',
  'made',
  'ready',
  'sending',
  'handed-in',
  'feedback-back',
]);
export type WorkState = z.infer<typeof WorkState>;

export const AssignmentCard = z.object({
  id: Id,
  kind: z.enum(['course', 'own', 'quick']),
  title: z.string(),
  courseTitle: z.string(),
  subject: z.string(),
  dueAt: z.iso.datetime().nullable(),
  setAt: z.iso.datetime(),
  state: WorkState,
  /** What is true now, and the command for what comes next. */
  situation: z.string(),
  nextStep: z.string(),
  nextStop: z.enum(['brief', 'takes', 'shape', 'fit', 'hand-in']),
  coverUrl: z.string().nullable(),
  handedInAt: z.iso.datetime().nullable(),
  /** The teacher has changed something that the person has not confirmed yet. */
  isChanged: z.boolean(),
  /** How what was handed in stands by its own findings; null before that. */
  proven: FindingState.nullable(),
  receiptId: Id.nullable(),
});
export type AssignmentCard = z.infer<typeof AssignmentCard>;

export const RubricRow = z.object({ label: z.string(), points: z.number() });
export const Material = z.object({ title: z.string(), note: z.string(), text: z.string() });
export type Material = z.infer<typeof Material>;

export const RecipeVersion = z.object({ version: z.int().positive(), recipe: Recipe });

/** How a take came here: as a file, by the camera here, by the practice camera, or sent by a phone. */
export const TakeOrigin = z.enum(['file', 'camera', 'practice', 'phone']);
export type TakeOrigin = z.infer<typeof TakeOrigin>;

/** What is known of a video while it is still being measured; what only decoding tells is not yet right. */
export const TakeDraft = z.object({
  video: VideoFacts.nullable(),
  sound: SoundFacts.nullable(),
  durationUs: z.int().nonnegative(),
});
export type TakeDraft = z.infer<typeof TakeDraft>;

export const TakeView = z.object({
  id: Id,
  name: z.string(),
  origin: TakeOrigin,
  /** What the person wrote about it; null where nothing. */
  note: z.string().nullable(),
  /** A note that was spoken. */
  voiceUrl: z.string().nullable(),
  sha256: z.string(),
  createdAt: z.iso.datetime(),
  sizeBytes: z.int().nonnegative(),
  state: z.enum(['inspecting', 'ready', 'refused']),
  /** Every assignment that it serves, this one among them. */
  assignmentIds: z.array(Id),
  isChosen: z.boolean(),
  kind: MediaKind.nullable(),
  facts: MediaFacts.nullable(),
  /** What it can be played and cut by until it is measured; null before that, and after. */
  draft: TakeDraft.nullable(),
  filmstrip: Filmstrip.nullable(),
  fault: Fault.nullable(),
  recipe: RecipeVersion.nullable(),
  /** What was chosen in Fit; null makes the best that fits. */
  choice: FitChoice.nullable(),
  /** Whether making it may begin before it is asked for. */
  isMadeAhead: z.boolean(),
  /** The proposal that the take came with. */
  proposal: z
    .object({
      recipe: Recipe,
      startReason: z.string().nullable(),
      finishReason: z.string().nullable(),
      colorReasons: z.array(z.string()).default([]),
      /** What mending could take out of its sound. */
      soundFaults: SoundFaults.nullable().default(null),
      remarks: z.array(z.string()),
    })
    .nullable(),
  /** What short samples of it came to; null while they have not been taken. */
  samples: FitSamples.nullable(),
  proxyUrl: z.string().nullable(),
  stripUrl: z.string().nullable(),
  /** Its series as one blob (docs/formats.md). */
  seriesUrl: z.string().nullable(),
  posterUrl: z.string().nullable(),
});
export type TakeView = z.infer<typeof TakeView>;

export const MadeView = z.object({
  id: Id,
  takeId: Id,
  fileName: z.string(),
  sizeBytes: z.int().positive(),
  sha256: z.string(),
  /** Of the recording that it was made from; null where that is no longer there. */
  sourceSha256: z.string().nullable(),
  createdAt: z.iso.datetime(),
  facts: MediaFacts,
  findings: z.array(Finding),
  plan: Plan,
  comparison: Comparison.nullable(),
  /** Frames of the hardest seconds, as recorded and as made, both at the size of the made file. */
  moments: z.array(z.object({ atUs: z.int(), ssim: z.number(), sourceUrl: z.string(), madeUrl: z.string() })),
  /** Whether take, recipe and limits are still those that it was made from. */
  isCurrent: z.boolean(),
  fileUrl: z.string(),
  posterUrl: z.string().nullable(),
});
export type MadeView = z.infer<typeof MadeView>;

export const ParcelItemInput = z.object({ slotId: z.string(), madeId: Id });
export const ParcelInput = z.object({
  text: ParcelText,
  items: z.array(ParcelItemInput).max(40),
  /** What was typed in slots that hold an answer or a link. */
  answers: z.array(SlotAnswer).max(40).default([]),
});
export type ParcelInput = z.infer<typeof ParcelInput>;

export const HandInView = z.object({
  id: Id,
  attempt: z.int().positive(),
  state: HandInState,
  createdAt: z.iso.datetime(),
  receivedAt: z.iso.datetime().nullable(),
  receiptId: Id.nullable(),
  fault: Fault.nullable(),
  /** What the person noted of a hand-in by hand; null for others. */
  note: z.string().nullable(),
  feedback: z.object({ text: z.string(), points: z.number().nullable(), at: z.iso.datetime() }).nullable(),
});
export type HandInView = z.infer<typeof HandInView>;

/** What a teacher changed of an assignment after it was set. */
export const ChangeView = z.object({
  at: z.iso.datetime(),
  changes: z.array(
    z.object({
      what: z.string(),
      before: z.string().nullable(),
      after: z.string().nullable(),
      as: z.enum(['words', 'instant']),
    }),
  ),
});
export type ChangeView = z.infer<typeof ChangeView>;

export const EventView = z.object({ at: z.iso.datetime(), what: z.string() });

export const AssignmentView = AssignmentCard.extend({
  instructions: z.string(),
  limits: Limits,
  slots: z.array(Slot),
  materials: z.array(Material),
  rubric: z.array(RubricRow),
  points: z.number().nullable(),
  attemptsAllowed: z.int().nullable(),
  attemptsUsed: z.int(),
  isLateAllowed: z.boolean(),
  isMine: z.boolean(),
  /** The person has corrected limits or text; the course's own can be taken back. */
  isBriefChanged: z.boolean(),
  /** Where the limits come from that the hand-in is judged by. */
  limitsFrom: LimitsOrigin,
  /** Limits of the person's own reading, which the hand-in is not judged by. */
  ownLimitIds: z.array(z.string()),
  /** What the person chose where words can be read in two ways, by the question's id. */
  answers: Answers,
  /** What the teacher changed and this person has not confirmed yet; oldest first. */
  changes: z.array(ChangeView),
  group: z.string().nullable(),
  dueByGroup: z.array(z.object({ group: z.string(), dueAt: z.iso.datetime() })),
  person: Person,
  takes: z.array(TakeView),
  made: z.array(MadeView),
  parcel: ParcelInput,
  missing: z.array(z.string()),
  handIns: z.array(HandInView),
  jobs: z.array(JobView),
  events: z.array(EventView),
});
export type AssignmentView = z.infer<typeof AssignmentView>;

export const TodayView = z.object({ now: z.iso.datetime(), assignments: z.array(AssignmentCard) });
export type TodayView = z.infer<typeof TodayView>;

export const SessionView = z.object({
  person: Person.nullable(),
  /** How dates are written at the school (BCP 47). */
  locale: z.string(),
});
export const PeopleView = z.object({ people: z.array(Person) });
export const SignInInput = z.object({ personId: Id });
export const OwnAssignmentInput = z.object({
  kind: z.enum(['own', 'quick']),
  title: z.string().trim().min(1).max(160),
  instructions: z.string().max(200_000),
  limits: Limits,
  dueAt: z.iso.datetime().nullable().default(null),
  answers: Answers.default({}),
});
/** Limits as a person has checked them; `dueAt` and `title` only count for an assignment of one's own. */
export const LimitsInput = z.object({
  limits: Limits,
  instructions: z.string().max(200_000).optional(),
  /** What the person chose where words can be read in two ways; left out, what was chosen stays. */
  answers: Answers.optional(),
  title: z.string().trim().min(1).max(160).optional(),
  dueAt: z.iso.datetime().nullable().optional(),
});
export const CalendarLink = z.object({ madeAt: z.iso.datetime().nullable() });
export const NewCalendarLink = z.object({ path: z.string(), madeAt: z.iso.datetime() });
/** What was noted of a hand-in that was given to the teacher by hand. */
export const ByHandInput = z.object({ note: z.string().trim().min(1).max(1000) });
/** A take among one's own, whatever it serves. */
export const OwnTakeView = TakeView.omit({
  filmstrip: true,
  proposal: true,
  samples: true,
  choice: true,
  isMadeAhead: true,
  isChosen: true,
  recipe: true,
}).extend({ assignments: z.array(z.object({ id: Id, title: z.string() })) });
export type OwnTakeView = z.infer<typeof OwnTakeView>;
export const OwnTakesView = z.object({
  takes: z.array(OwnTakeView),
  /** Bytes of all of one's own takes and made files, and how many are allowed. */
  usedBytes: z.int().nonnegative(),
  quotaBytes: z.int().positive(),
});
export type OwnTakesView = z.infer<typeof OwnTakesView>;
/** The key that receipts of this school are signed with (Ed25519, SubjectPublicKeyInfo). */
export const PublicKeyView = z.object({
  algorithm: z.literal('Ed25519'),
  /** DER in base64, as it stands in receipts. */
  publicKey: z.string(),
  pem: z.string(),
  /** First 16 hexadecimal digits of the SHA-256 of the DER. */
  fingerprint: z.string(),
});
export type PublicKeyView = z.infer<typeof PublicKeyView>;
export const TakeInput = z.union([
  z.strictObject({ isChosen: z.literal(true) }),
  z.strictObject({ choice: FitChoice.nullable() }),
  z.strictObject({ isMadeAhead: z.boolean() }),
]);
/** What a person can change of a take itself. */
export const TakeChange = z.strictObject({
  name: z.string().trim().min(1).max(200).optional(),
  note: z.string().max(2000).nullable().optional(),
});
/** A spoken note of at most a minute, as the browser recorded it; null takes it away. */
export const VoiceInput = z.object({
  dataBase64: z.base64().max(1_600_000).nullable(),
});
export const PhoneLinkInput = z.object({ assignmentId: Id.nullable() });
/** A link that a phone opens once; `addresses` are whole addresses by which this computer can be reached. */
export const NewPhoneLink = z.object({
  path: z.string(),
  addresses: z.array(z.string()),
  /** Whether other devices can reach it at all (docs/phones.md). */
  isReachable: z.boolean(),
  expiresAt: z.iso.datetime(),
});
export type NewPhoneLink = z.infer<typeof NewPhoneLink>;
export const PhoneLinkOpen = z.object({ token: z.string().min(20).max(100) });
export const PhoneSender = z.object({
  personId: Id,
  firstName: z.string(),
  assignmentId: Id.nullable(),
  assignmentTitle: z.string().nullable(),
  limits: Limits,
  slots: z.array(Slot),
  expiresAt: z.iso.datetime(),
  locale: z.string(),
});
export type PhoneSender = z.infer<typeof PhoneSender>;

export const CardView = z.object({
  id: Id,
  person: Person,
  createdAt: z.iso.datetime(),
  withdrawnAt: z.iso.datetime().nullable(),
});
export type CardView = z.infer<typeof CardView>;
export const CardsView = z.object({
  cards: z.array(CardView),
  /** Whom cards can be made for. */
  people: z.array(Person),
});
export const CardsInput = z.object({ personIds: z.array(Id).min(1).max(200) });
export const NewCards = z.object({ cards: z.array(z.object({ card: CardView, code: z.string() })) });
export type NewCards = z.infer<typeof NewCards>;
/** The code of a card begins with this, so that no other code is taken for one. */
export const CARD_PREFIX = 'apodix-card:';
export const CardSignIn = z.object({ code: z.string().startsWith(CARD_PREFIX).max(120) });
/** A name without its ending. */
export const MadeInput = z.object({ stem: z.string().trim().min(1).max(200) });
export const MadeStarted = z.object({ job: JobView.nullable(), refusals: z.array(Refusal) });
export const SamplesStarted = z.object({ job: JobView.nullable() });
/** `version` counts what was kept; 0 and null where nothing was. */
export const SheetVersion = z.object({ version: z.int().nonnegative(), sheet: Sheet.nullable() });
export const SheetInput = z.object({ baseVersion: z.int().nonnegative(), sheet: Sheet });
export const SheetStarted = z.object({ job: JobView });
export const Done = z.object({ isDone: z.literal(true) });

/** One line of the event stream: what changed, so that the page can read it anew. */
export const LiveEvent = z.discriminatedUnion('type', [
  z.object({ type: z.literal('job'), job: JobView }),
  z.object({ type: z.literal('work'), assignmentId: Id }),
  /** One's own takes, whatever they serve. */
  z.object({ type: z.literal('takes') }),
]);
export type LiveEvent = z.infer<typeof LiveEvent>;
