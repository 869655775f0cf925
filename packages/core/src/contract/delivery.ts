import { z } from 'zod';
import { Slot, SlotAnswer } from '../handin/parcel.ts';
import { Limits } from '../limits/limit.ts';
import { Id, Person } from './schemas.ts';

const Sha256 = z.string().regex(/^[0-9a-f]{64}$/);

/** What a course site announces of an assignment. */
export const Announcement = z.object({
  id: z.string(),
  courseId: z.string(),
  title: z.string(),
  instructions: z.string(),
  limits: Limits,
  slots: z.array(Slot),
  materials: z.array(z.object({ title: z.string(), note: z.string(), text: z.string() })),
  rubric: z.array(z.object({ label: z.string(), points: z.number() })),
  points: z.number().nullable(),
  attemptsAllowed: z.int().positive().nullable(),
  isLateAllowed: z.boolean(),
  setAt: z.iso.datetime(),
  dueAt: z.iso.datetime().nullable(),
  /** Groups that have a due time of their own. */
  dueByGroup: z.array(z.object({ group: z.string().min(1).max(60), dueAt: z.iso.datetime() })).default([]),
});
export type Announcement = z.infer<typeof Announcement>;
/** As a course site writes it: what has a default may be left out. */
export type RawAnnouncement = z.input<typeof Announcement>;
export const Announcements = z.object({ siteName: z.string(), assignments: z.array(Announcement) });

/** Opens a delivery; the same key always gives the same delivery. */
export const DeliveryInput = z.object({
  key: z.string().min(8).max(100),
  assignmentId: z.string(),
  person: z.string(),
  /** The group of the course that the person is in: groups may have a due time of their own. */
  group: z.string().min(1).max(60).nullable().default(null),
  attempt: z.int().positive(),
  note: z.string(),
  participants: z.string(),
  files: z
    .array(
      z.object({
        slotId: z.string(),
        fileName: z.string().min(1).max(255),
        sizeBytes: z.int().positive(),
        sha256: Sha256,
        mimeType: z.string(),
      }),
    )
    .max(40),
  /** What was typed, in slots that hold an answer or a link. */
  answers: z.array(SlotAnswer).max(40).default([]),
});
export type DeliveryInput = z.infer<typeof DeliveryInput>;

/** Takes back the delivery of a key before it was received; a later one of that key is not taken either. */
export const DeliveryCancel = z.object({ key: DeliveryInput.shape.key });

export const SiteFeedback = z.object({
  text: z.string().max(4000),
  points: z.number().nullable(),
  at: z.iso.datetime(),
});
export type SiteFeedback = z.infer<typeof SiteFeedback>;

/** How far a teacher is with a delivery that was received. */
export const SiteCheck = z.object({ check: z.enum(['begun', 'accepted']) });

/** Who uses Apodix here, for as long as accounts come from a file. */
export const PeopleFile = z.object({
  people: z.array(Person),
  courses: z.array(z.object({ id: Id, title: z.string(), subject: z.string() })),
  enrolments: z.array(
    z.object({
      personId: Id,
      courseId: Id,
      role: z.enum(['student', 'teacher', 'family']),
      group: z.string().min(1).max(60).nullable().default(null),
    }),
  ),
});
export type PeopleFile = z.infer<typeof PeopleFile>;

export const DeliveryView = z.object({
  deliveryId: z.string(),
  state: z.enum(['open', 'received', 'refused', 'cancelled', 'taken-back']),
  /** How far the teacher is with what was received. */
  check: z.enum(['none', 'begun', 'accepted']).default('none'),
  reason: z.string().nullable(),
  receivedAt: z.iso.datetime().nullable(),
  isLate: z.boolean(),
  feedback: SiteFeedback.nullable(),
  answers: z.array(SlotAnswer).default([]),
  /** Bytes that are there already, and the digest once all are. */
  files: z.array(
    z.object({
      fileName: z.string(),
      offset: z.int().nonnegative(),
      sizeBytes: z.int().positive(),
      sha256: Sha256.nullable(),
    }),
  ),
});
export type DeliveryView = z.infer<typeof DeliveryView>;

/** Faults that the stand-in can be told to show, each the given number of times. */
export const SiteFault = z.object({
  mode: z.enum([
    'none',
    'too-large',
    'wrong-type',
    'slow',
    'unavailable',
    'busy',
    'cut-off',
    'lost-answer',
    'duplicate',
    'late',
  ]),
  times: z.int().positive().default(1),
});
export type SiteFault = z.infer<typeof SiteFault>;
