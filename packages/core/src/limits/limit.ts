import { z } from 'zod';
import { ContainerId, MediaKind } from '../media/containers.ts';
import { PARTS } from '../presence/look.ts';

export const Severity = z.enum(['must', 'should']);
export type Severity = z.infer<typeof Severity>;

/** Begins the name of a slot where a limit is about what goes into that slot alone. */
export const SLOT_TARGET = 'slot:';
/** Which files a limit is about: all, those of one kind, or those of one slot (`slot:close-up`). */
export const LimitTarget = z.union([
  z.enum(['any', ...MediaKind.options]),
  z.string().regex(/^slot:[A-Za-z0-9_-]{1,40}$/),
]);
export type LimitTarget = z.infer<typeof LimitTarget>;

const base = {
  id: z.string().min(1).max(64),
  severity: Severity.default('must'),
  appliesTo: LimitTarget.default('any'),
  /** The words of the instructions that it came from; null where a person typed it. */
  words: z.string().max(500).nullable().default(null),
  /** A person has corrected or added it; reading the instructions again leaves it alone. */
  isChangedByPerson: z.boolean().default(false),
};
const bounds = { min: z.number().nullable().default(null), max: z.number().nullable().default(null) };
const spanUs = {
  minUs: z.int().nonnegative().nullable().default(null),
  maxUs: z.int().positive().nullable().default(null),
};

export const VideoCodecId = z.enum(['h264', 'hevc', 'vp8', 'vp9', 'av1', 'mpeg4', 'mjpeg', 'prores']);
export type VideoCodecId = z.infer<typeof VideoCodecId>;
export const SoundCodecId = z.enum(['aac', 'mp3', 'opus', 'vorbis', 'flac', 'pcm']);
export type SoundCodecId = z.infer<typeof SoundCodecId>;

/** A wall-clock time at the school, without zone: `2026-11-27T16:00`. */
export const LocalTime = z
  .string()
  .regex(/^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])T([01]\d|2[0-3]):[0-5]\d$/);

/** Formats that a text may refuse although no file here ever has them. */
export const OtherFormat = z.enum([
  ...(['zip', 'rar', 'doc', 'docx', 'odt', 'rtf', 'txt', 'pages', 'ppt', 'pptx', 'key'] as const),
  ...(['psd', 'ai', 'raw', 'wmv', 'flv', '3gp', 'mpg', 'wma', 'amr', 'svg'] as const),
]);
export type OtherFormat = z.infer<typeof OtherFormat>;

const kinds = [
  z.object({
    ...base,
    kind: z.literal('format'),
    wanted: z.array(ContainerId).default([]),
    refused: z.array(z.union([ContainerId, OtherFormat])).default([]),
  }),
  z.object({
    ...base,
    kind: z.literal('video-codec'),
    wanted: z.array(VideoCodecId).default([]),
    refused: z.array(VideoCodecId).default([]),
  }),
  z.object({
    ...base,
    kind: z.literal('sound-codec'),
    wanted: z.array(SoundCodecId).default([]),
    refused: z.array(SoundCodecId).default([]),
  }),
  z.object({
    ...base,
    kind: z.literal('file-size'),
    minBytes: z.int().nonnegative().nullable().default(null),
    maxBytes: z.int().positive().nullable().default(null),
    /** The words could mean 10^6 or 2^20; the stricter was taken. */
    isAmbiguous: z.boolean().default(false),
  }),
  z.object({
    ...base,
    kind: z.literal('total-size'),
    maxBytes: z.int().positive(),
    isAmbiguous: z.boolean().default(false),
  }),
  z.object({ ...base, kind: z.literal('length'), ...spanUs, isAbout: z.boolean().default(false) }),
  z.object({
    ...base,
    kind: z.literal('picture-edge'),
    edge: z.enum(['height', 'width', 'long', 'short', 'lines']),
    ...bounds,
  }),
  z.object({
    ...base,
    kind: z.literal('aspect'),
    width: z.number().positive(),
    height: z.number().positive(),
  }),
  z.object({ ...base, kind: z.literal('orientation'), wanted: z.enum(['landscape', 'portrait', 'square']) }),
  z.object({ ...base, kind: z.literal('frame-rate'), ...bounds }),
  z.object({
    ...base,
    kind: z.literal('print-resolution'),
    minDpi: z.number().positive(),
    /** The size that it is to be printed at, or was scanned from; null where the text tells none. */
    paperWidthMm: z.number().positive().nullable(),
    paperHeightMm: z.number().positive().nullable(),
  }),
  z.object({ ...base, kind: z.literal('sound-present'), isWanted: z.boolean() }),
  z.object({ ...base, kind: z.literal('channels'), wanted: z.int().min(1).max(8) }),
  z.object({ ...base, kind: z.literal('sample-rate'), ...bounds }),
  z.object({ ...base, kind: z.literal('loudness'), ...bounds }),
  z.object({ ...base, kind: z.literal('true-peak'), maxDbtp: z.number() }),
  z.object({ ...base, kind: z.literal('no-clipping') }),
  z.object({ ...base, kind: z.literal('one-take') }),
  z.object({ ...base, kind: z.literal('whole-piece') }),
  z.object({ ...base, kind: z.literal('sharp') }),
  z.object({ ...base, kind: z.literal('in-view'), parts: z.array(z.enum(PARTS)).min(1).max(PARTS.length) }),
  z.object({ ...base, kind: z.literal('different') }),
  z.object({ ...base, kind: z.literal('file-name'), pattern: z.string().min(1).max(200) }),
  z.object({ ...base, kind: z.literal('location-removed') }),
  z.object({
    ...base,
    kind: z.literal('count'),
    item: z.enum(['video', 'sound', 'photo', 'document', 'text', 'link']),
    label: z.string().max(80).nullable().default(null),
    min: z.int().nonnegative(),
    max: z.int().positive().nullable(),
    alternative: z.string().max(8).nullable().default(null),
  }),
  z.object({ ...base, kind: z.literal('participants') }),
  z.object({ ...base, kind: z.literal('note') }),
  z.object({ ...base, kind: z.literal('own-work') }),
  z.object({ ...base, kind: z.literal('due'), at: LocalTime, hasTime: z.boolean().default(true) }),
  z.object({ ...base, kind: z.literal('late'), isAllowed: z.boolean() }),
  z.object({ ...base, kind: z.literal('attempts'), max: z.int().positive() }),
  z.object({
    ...base,
    kind: z.literal('points'),
    points: z.number().nonnegative(),
    rubric: z
      .array(z.object({ label: z.string().min(1).max(80), points: z.number().nonnegative() }))
      .max(40)
      .default([]),
  }),
] as const;

/** One checkable demand. A discriminated union on `kind`. */
export const Limit = z.discriminatedUnion('kind', [...kinds]).superRefine((limit, context) => {
  const [low, high] = readBounds(limit);
  if (low !== null && high !== null && low > high) {
    context.addIssue({ code: 'custom', message: 'The least wanted is more than the most allowed.' });
  }
});
export type Limit = z.infer<typeof Limit>;
export type LimitKind = Limit['kind'];
export type LimitOf<K extends LimitKind> = Extract<Limit, { kind: K }>;

export const Limits = z.array(Limit).max(60);
export type Limits = z.infer<typeof Limits>;

/** The numeric floor and ceiling of a limit in its own unit, null where it has none. */
export function readBounds(
  limit: { kind: string } & Record<string, unknown>,
): [number | null, number | null] {
  const pick = (...keys: string[]) => {
    const value = keys.map((key) => limit[key]).find((each) => typeof each === 'number');
    return typeof value === 'number' ? value : null;
  };
  return [pick('minUs', 'minBytes', 'min', 'minDpi'), pick('maxUs', 'maxBytes', 'max', 'maxDbtp')];
}
