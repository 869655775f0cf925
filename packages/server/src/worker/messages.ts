import {
  ColorAdvice,
  Comparison,
  DeliveryInput,
  Finding,
  FitSamples,
  Limits,
  MediaFacts,
  Plan,
  Recipe,
  Sheet,
  SoundFaults,
  Filmstrip,
  TakeDraft,
} from '@apodix/core';
import { z } from 'zod';
import { CourseSite } from '../delivery/course-site.ts';

const NameContextSchema = z.object({
  surname: z.string(),
  firstName: z.string(),
  piece: z.string(),
  course: z.string(),
  candidateNumber: z.string().nullable(),
});

/** Where series and evidence of a take lie; null where they have to be measured first. */
const Measured = { seriesPath: z.string().nullable(), evidencePath: z.string().nullable() };

const Working = z.object({ intermediatePath: z.string().optional() });

/** Takes that the plan's recipe names beside its own. */
const Others = z.array(
  z.object({ takeId: z.string(), sourcePath: z.string(), facts: MediaFacts, ...Measured }),
);

/** What a job's child process is asked for. */
export const WorkerTask = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('inspect'),
    sourcePath: z.string(),
    folder: z.string(),
    mostLines: z.number().positive().nullable(),
  }),
  z.object({
    kind: z.literal('make'),
    sourcePath: z.string(),
    folder: z.string(),
    facts: MediaFacts,
    ...Measured,
    plan: Plan,
    limits: Limits,
    nameContext: NameContextSchema.nullable(),
    slotId: z.string().nullable(),
    working: Working,
    others: Others,
    /** The folder in which coded pieces of the take stay. */
    pieces: z.string(),
  }),
  z.object({
    kind: z.literal('ahead'),
    sourcePath: z.string(),
    folder: z.string(),
    facts: MediaFacts,
    ...Measured,
    plan: Plan,
    working: Working,
    others: Others,
    pieces: z.string(),
  }),
  z.object({
    kind: z.literal('shake'),
    sourcePath: z.string(),
    folder: z.string(),
    facts: MediaFacts,
    seriesPath: z.string(),
  }),
  z.object({
    kind: z.literal('sheet'),
    folder: z.string(),
    sheet: Sheet,
    takes: z.array(z.object({ path: z.string(), facts: MediaFacts, recipe: Recipe })),
    maxBytes: z.int().positive().nullable(),
  }),
  z.object({
    kind: z.literal('align'),
    pictureEvidencePath: z.string(),
    soundEvidencePath: z.string(),
  }),
  z.object({
    kind: z.literal('sample'),
    sourcePath: z.string(),
    folder: z.string(),
    facts: MediaFacts,
    ...Measured,
    /** What was sampled before. */
    known: FitSamples.nullable(),
    /** Only a glance, by which something can be made ahead. */
    isFirstLook: z.boolean(),
    recipe: Recipe,
    limits: Limits,
    working: Working,
  }),
  z.object({
    kind: z.literal('deliver'),
    site: CourseSite,
    delivery: DeliveryInput,
    paths: z.array(z.string()),
    /** The course site was asked for it before: it may have it already. */
    isRepeated: z.boolean(),
    /** It is to be taken back rather than sent. */
    isWithdrawn: z.boolean(),
  }),
]);
export type WorkerTask = z.infer<typeof WorkerTask>;

/** What a child that ends by itself is told. */
export const END_BY_ITSELF = 'end';

export const InspectDone = z.object({
  facts: MediaFacts,
  filmstrip: Filmstrip.nullable(),
  isOwnProxy: z.boolean(),
  color: ColorAdvice.nullable(),
  faults: SoundFaults.nullable(),
  files: z.object({
    intermediate: z.string().optional(),
    series: z.string().optional(),
    evidence: z.string().optional(),
    proxy: z.string().optional(),
    strip: z.string().optional(),
    poster: z.string().optional(),
  }),
});
export const InspectEarly = z.discriminatedUnion('of', [
  z.object({ of: z.literal('look'), poster: z.string(), strip: z.string(), filmstrip: Filmstrip }),
  z.object({ of: z.literal('times'), draft: TakeDraft, series: z.string() }),
  /** null: the recording itself is what is played. */
  z.object({ of: z.literal('film'), path: z.string().nullable() }),
]);
export const MakeDone = z.object({
  path: z.string(),
  facts: MediaFacts,
  findings: z.array(Finding),
  comparison: Comparison,
  plan: Plan,
  moments: z.array(
    z.object({ atUs: z.int(), ssim: z.number(), sourcePath: z.string(), madePath: z.string() }),
  ),
  poster: z.string().nullable(),
});
export const ShakeDone = z.object({ seriesPath: z.string() });
export const SheetDone = z.object({ path: z.string() });
export const SampleDone = FitSamples;
export const DeliverDone = z.object({
  deliveryId: z.string(),
  siteName: z.string(),
  receivedAt: z.iso.datetime(),
  isLate: z.boolean(),
  sentAt: z.iso.datetime(),
  sha256: z.array(z.string()),
});

export const WorkerMessage = z.discriminatedUnion('type', [
  z.object({
    type: z.literal('progress'),
    stage: z.string(),
    share: z.number(),
    secondsLeft: z.number().nullable(),
  }),
  /** What is there before the rest. */
  z.object({ type: z.literal('early'), result: z.unknown() }),
  z.object({ type: z.literal('done'), result: z.unknown() }),
  z.object({
    type: z.literal('failed'),
    code: z.string(),
    detail: z.string().optional(),
    trace: z.string().optional(),
  }),
]);
export type WorkerMessage = z.infer<typeof WorkerMessage>;
