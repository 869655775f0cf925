import { z } from 'zod';

/** What the photograph child is asked for; one request a process, on stdin, as JSON. */
export const PhotoRequest = z.discriminatedUnion('task', [
  z.object({ task: z.literal('inspect'), path: z.string(), container: z.string() }),
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
    turnDegrees: z.int(),
    isMirrored: z.boolean(),
    widthPx: z.int().positive(),
    heightPx: z.int().positive(),
    leastShortEdgePx: z.int().positive(),
    maxBytes: z.int().positive().nullable(),
    format: z.enum(['jpeg', 'png', 'webp', 'tiff', 'pdf']),
    outputPath: z.string(),
  }),
]);
export type PhotoRequest = z.infer<typeof PhotoRequest>;

export const PhotoInspected = z.object({
  photo: z.object({
    codec: z.string(),
    widthPx: z.int(),
    heightPx: z.int(),
    orientation: z.int(),
    bitDepth: z.int(),
    channels: z.int(),
    hasAlpha: z.boolean(),
    colorProfile: z.string().nullable(),
    isProgressive: z.boolean(),
    frameCount: z.int(),
  }),
  captureTime: z.string().nullable(),
  locationPresent: z.boolean(),
  deviceSerialPresent: z.boolean(),
});
export const PhotoRendered = z.object({
  widthPx: z.int(),
  heightPx: z.int(),
  quality: z.int().nullable(),
  sizeBytes: z.int(),
  probes: z.int(),
  fits: z.boolean(),
});
export type PhotoRendered = z.infer<typeof PhotoRendered>;

export const PhotoAnswer = z.union([
  z.object({ answer: z.unknown() }),
  z.object({ fault: z.object({ code: z.string(), detail: z.string().optional() }) }),
]);
