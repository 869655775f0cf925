import { Corner } from '../geometry/flatten.ts';
import { WritingWay } from './writing-way.ts';
import { SeenLight } from '../light/seen-light.ts';
import { z } from 'zod';
import { Conditions } from './conditions.ts';
import { Seen } from '../presence/seen.ts';
import { ContainerId, MediaKind } from './containers.ts';

/** An exact rate: numerator / denominator a second. */
export const Rational = z.object({ numerator: z.int().positive(), denominator: z.int().positive() });
export type Rational = z.infer<typeof Rational>;

export const ColorTags = z.object({
  primaries: z.string().nullable(),
  transfer: z.string().nullable(),
  matrix: z.string().nullable(),
  range: z.enum(['limited', 'full']).nullable(),
});
export type ColorTags = z.infer<typeof ColorTags>;

export const VideoFacts = z.object({
  /** Which stream of the file it is; inspection and making read the same. */
  streamIndex: z.int().nonnegative().default(0),
  codec: z.string(),
  profile: z.string().nullable(),
  level: z.string().nullable(),
  pixelFormat: z.string(),
  bitDepth: z.int(),
  chroma: z.enum(['4:2:0', '4:2:2', '4:4:4', '4:0:0', 'rgb', 'other']),
  codedWidthPx: z.int().positive(),
  codedHeightPx: z.int().positive(),
  /** As it is shown: upright, square pixels. */
  widthPx: z.int().positive(),
  heightPx: z.int().positive(),
  pixelAspect: Rational,
  /** How far the player turns it clockwise to stand upright. */
  rotationDegrees: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]),
  frameCount: z.int().nonnegative(),
  frameRate: Rational,
  rateKind: z.enum(['constant', 'variable']),
  /** Presentation time of the first frame from the start of the file. */
  startUs: z.int(),
  durationUs: z.int().nonnegative(),
  color: ColorTags,
  hdr: z.enum(['hlg', 'pq']).nullable(),
  interlace: z.enum(['progressive', 'top-field-first', 'bottom-field-first', 'mixed']),
  bitrateBps: z.int().nonnegative(),
});
export type VideoFacts = z.infer<typeof VideoFacts>;

export const SoundFacts = z.object({
  streamIndex: z.int().nonnegative().default(1),
  codec: z.string(),
  profile: z.string().nullable(),
  channels: z.int().positive(),
  layout: z.string().nullable(),
  rateHz: z.int().positive(),
  /** Presentation time of the first sample from the start of the file. */
  startUs: z.int(),
  /** Sound start less picture start; 0 where there is no picture. */
  startOffsetUs: z.int(),
  durationUs: z.int().nonnegative(),
  bitrateBps: z.int().nonnegative(),
  /** Integrated loudness, ITU-R BS.1770-4; null where it is silence. */
  loudnessLufs: z.number().nullable(),
  loudnessRangeLu: z.number().nullable(),
  /** Highest true peak, BS.1770-4 Annex 2; null where it is silence. */
  truePeakDbtp: z.number().nullable(),
  /** Flat tops at full scale; null where nobody looked. */
  clippedCount: z.int().nonnegative().nullable().default(null),
});
export type SoundFacts = z.infer<typeof SoundFacts>;

/** A flat piece in a photograph. */
export const SeenPiece = z.object({
  /** Top left, top right, bottom right, bottom left. */
  corners: z.tuple([Corner, Corner, Corner, Corner]),
  /** Width to height of the piece itself, by its perspective. */
  aspect: z.number().positive(),
  /** 0 to 1: how well its four sides can be seen. */
  confidence: z.number().min(0).max(1),
  /** It may go on beyond the picture. */
  isCutOff: z.boolean(),
  /** Somebody may be seen beside it, whom nobody asked to cut away. */
  isBesideSomebody: z.boolean().optional(),
  /** How the lens bowed its sides (`bendPoint`); not there where they are straight, or nobody could tell. */
  lens: z.number().optional(),
});
export type SeenPiece = z.infer<typeof SeenPiece>;

const Light = z.tuple([z.number(), z.number(), z.number()]);

/** A target of 24 patches in a photograph. */
export const SeenTarget = z.object({
  /** Outer corners of its patches, that of the first patch first, in shares of the picture's edges. */
  corners: z.tuple([Corner, Corner, Corner, Corner]),
  /** Linear light of each patch, row after row; null where it could not be read. */
  patches: z.array(Light.nullable()).length(24),
});
export type SeenTarget = z.infer<typeof SeenTarget>;

/** How clear the parts of a photograph are, and what else there is to check before it is handed in. */
export const SeenDetail = z.object({
  /** Longer edge of the picture that it was looked at in: blurs are told in its points. */
  edgePx: z.int().positive(),
  columns: z.int().positive(),
  rows: z.int().positive(),
  /** Blur of the edges in each part, row after row, as a Gaussian's deviation; null without edges. */
  blursPx: z.array(z.number().nonnegative().nullable()),
  /** Standard deviation of the grain, 0 to 255. */
  grain: z.number().nonnegative(),
  /** Writing, in points of the photograph itself; null where none was seen. */
  writing: z.object({ strokePx: z.number(), heightPx: z.number() }).nullable(),
  /** Shares of all points that are full white and all but black. */
  burntShare: z.number().min(0).max(1),
  blackShare: z.number().min(0).max(1),
});
export type SeenDetail = z.infer<typeof SeenDetail>;

export const PhotoFacts = z.object({
  codec: z.string(),
  /** Upright, after the orientation tag has been applied. */
  widthPx: z.int().positive(),
  heightPx: z.int().positive(),
  /** Exif orientation as stored, 1 to 8 (CIPA DC-008). */
  orientation: z.int().min(1).max(8),
  bitDepth: z.int(),
  channels: z.int(),
  hasAlpha: z.boolean(),
  /** Name of the embedded profile; null where there is none. */
  colorProfile: z.string().nullable(),
  isProgressive: z.boolean(),
  /** Pictures in the file. */
  frameCount: z.int().positive(),
  /** The flat piece in it; null where nothing four-sided stands out, not there where nobody looked. */
  piece: SeenPiece.nullable().optional(),
  /** It was drawn or captured on a screen rather than photographed, by its looks. */
  isFromScreen: z.boolean().optional(),
  /** Share of the piece that is burnt white by a lamp seen in it; not there where nobody looked. */
  glareShare: z.number().min(0).max(1).optional(),
  /** Sharpness part by part, grain and writing; not there where nobody looked. */
  detail: SeenDetail.optional(),
  /** Which way its writing runs; null where that cannot be told, not there where none was seen. */
  writingWay: WritingWay.nullable().optional(),
  /** How it was lit; null where nothing tells, not there where nobody looked. */
  light: SeenLight.nullable().optional(),
  /** The color target in it; null where there is none, not there where nobody looked. */
  target: SeenTarget.nullable().optional(),
  /** Title, artist and rights that the file tells; not there where it tells none. */
  about: z.object({ title: z.string(), artist: z.string(), rights: z.string() }).optional(),
});
export type PhotoFacts = z.infer<typeof PhotoFacts>;

/** A document: its pages, and its largest picture as it is shown. */
export const DocumentFacts = z.object({
  pageCount: z.int().positive(),
  /** Of the largest picture inside; without one of the first page as it is drawn at 150 dpi. */
  widthPx: z.int().positive(),
  heightPx: z.int().positive(),
  /** How that picture is coded; null where pages are drawn only. */
  pictureCodec: z.string().nullable(),
  pictureCount: z.int().nonnegative(),
});
export type DocumentFacts = z.infer<typeof DocumentFacts>;

/** What inspection saw of cuts and gaps inside a recording. */
export const Continuity = z.object({
  /** Stretches in which no frame was recorded. */
  gaps: z.array(z.object({ atUs: z.int(), lengthUs: z.int() })),
  /** Where the whole picture changes from one frame to the next. */
  cuts: z.array(z.object({ atUs: z.int() })),
  /** It was recorded in one go, as whoever recorded it knows for sure. */
  isSure: z.boolean(),
});
export type Continuity = z.infer<typeof Continuity>;

/** Everything that inspection measured of one file. */
export const MediaFacts = z.object({
  kind: MediaKind,
  container: ContainerId,
  sizeBytes: z.int().positive(),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  /** The longest stream; null for a photograph. */
  durationUs: z.int().nonnegative().nullable(),
  /** Whether the index stands before the media; null where the container has none. */
  moovFirst: z.boolean().nullable(),
  video: VideoFacts.nullable(),
  sound: SoundFacts.nullable(),
  photo: PhotoFacts.nullable(),
  document: DocumentFacts.nullable().default(null),
  /** null where nobody looked, and for what has no frames. */
  continuity: Continuity.nullable().default(null),
  /** What was seen of a person along the take, on the person's own machine; null where nobody looked. */
  seen: Seen.nullable().default(null),
  /** The conditions that it was made under; null where nobody measured them. */
  conditions: Conditions.nullable().default(null),
  /** Streams that are there and cannot be read; the others are whole. */
  unread: z.array(z.enum(['picture', 'sound'])).default([]),
  /**
   * How the picture looks, for finding nearly the same again (`isAlike`); null for sound, and where nobody
   * looked.
   */
  likeness: z.string().nullable().default(null),
  /** ISO 8601 as the file tells it: with its offset where it has one, else the time at the place. */
  captureTime: z.string().nullable(),
  /** null where it cannot be told for this kind of file. */
  locationPresent: z.boolean().nullable(),
  deviceSerialPresent: z.boolean().nullable(),
});
export type MediaFacts = z.infer<typeof MediaFacts>;

/** Upright size of the picture; null for sound alone. */
export function readPictureSize(facts: MediaFacts): { widthPx: number; heightPx: number } | null {
  const picture = facts.video ?? facts.photo ?? facts.document;
  return picture ? { widthPx: picture.widthPx, heightPx: picture.heightPx } : null;
}

/** How long so many frames at this rate run, in microseconds. */
export function measureFramesUs(frames: {
  readonly frameCount: number;
  readonly frameRate: Rational;
}): number {
  return (frames.frameCount * frames.frameRate.denominator * 1e6) / frames.frameRate.numerator;
}

/** Frames a second as a number. */
export function readRate(rate: Rational): number {
  return rate.numerator / rate.denominator;
}

/**
 * Whether a picture takes so long to decode that a lighter copy is worth writing: bright-range or deep color,
 * or a coding that asks for much.
 */
export function isCostlyToDecode(video: VideoFacts): boolean {
  return (
    video.hdr !== null ||
    video.bitDepth > 8 ||
    (['hevc', 'av1', 'vp9'].includes(video.codec) && Math.min(video.widthPx, video.heightPx) >= 720)
  );
}
