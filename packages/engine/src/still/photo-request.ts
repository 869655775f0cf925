import { DocumentFacts, PhotoFacts, Recipe, SeenPiece } from '@apodix/core';
import { z } from 'zod';

/** What the photograph child is asked for; one request a process, on stdin, as JSON. */
export const PhotoRequest = z.discriminatedUnion('task', [
  z.object({
    task: z.literal('inspect'),
    path: z.string(),
    container: z.string(),
    /** Size of the small picture that the proof rests on; null chooses it by the proportions. */
    small: z.object({ widthPx: z.int().positive(), heightPx: z.int().positive() }).nullable(),
  }),
  z.object({
    task: z.literal('preview'),
    path: z.string(),
    container: z.string(),
    outputs: z.array(z.object({ path: z.string(), longEdgePx: z.int().positive(), quality: z.int() })),
  }),
  z.object({
    task: z.literal('render'),
    path: z.string(),
    container: z.string(),
    /** What the recipe does to the picture. */
    picture: Recipe.shape.picture,
    widthPx: z.int().positive(),
    heightPx: z.int().positive(),
    leastShortEdgePx: z.int().positive(),
    maxBytes: z.int().positive().nullable(),
    format: z.enum(['jpeg', 'png', 'webp', 'tiff', 'pdf']),
    outputPath: z.string(),
  }),
  z.object({
    task: z.literal('compare'),
    path: z.string(),
    container: z.string(),
    picture: Recipe.shape.picture,
    /** A picture that was made of it. */
    madePath: z.string(),
    madeContainer: z.string(),
  }),
  z.object({
    task: z.literal('merge'),
    /** Shots of one piece, the lamp moved between them; the first is the one that the others are laid on. */
    shots: z
      .array(
        z.object({ path: z.string(), container: z.string(), corners: SeenPiece.shape.corners.nullable() }),
      )
      .min(2)
      .max(3),
    outputPath: z.string(),
  }),
]);
export type PhotoRequest = z.infer<typeof PhotoRequest>;

export const PhotoInspected = z.object({
  photo: PhotoFacts.nullable(),
  document: DocumentFacts.nullable(),
  captureTime: z.string().nullable(),
  locationPresent: z.boolean().nullable(),
  deviceSerialPresent: z.boolean().nullable(),
  /** `measureBlur` at 640 pixels; null for documents and where nothing could tell. */
  blur: z.number().nullable(),
  /** Small pictures, R, G and B of eight bits in sRGB, page after page, as base64. */
  small: z.object({ widthPx: z.int().positive(), heightPx: z.int().positive(), rgb: z.string() }),
});
/** What came of merging shots. */
export const PhotoMerged = z.object({ replacedShare: z.number().min(0).max(1), offPx: z.number() });
export type PhotoMerged = z.infer<typeof PhotoMerged>;

/** `CloseMatch`; null where the picture is too small. */
export const PhotoCompared = z
  .object({ ssimMean: z.number(), ssimWorst: z.number(), places: z.int().positive() })
  .nullable();

export const PhotoRendered = z.object({
  widthPx: z.int(),
  heightPx: z.int(),
  quality: z.int().nullable(),
  sizeBytes: z.int(),
  probes: z.int(),
  fits: z.boolean(),
});
export type PhotoRendered = z.infer<typeof PhotoRendered>;
