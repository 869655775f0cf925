import { z } from 'zod';

/** Why limits cannot be met with this take, as data, with what would be possible. */
export const Refusal = z.discriminatedUnion('reason', [
  z.object({
    reason: z.literal('too-long-for-size'),
    message: z.string(),
    atMostUs: z.int(),
    needsBytes: z.int(),
    lines: z.int().positive().nullable(),
  }),
  z.object({
    reason: z.literal('too-short'),
    message: z.string(),
    availableUs: z.int(),
    wantedUs: z.int(),
  }),
  z.object({
    reason: z.literal('picture-too-small'),
    message: z.string(),
    availablePx: z.number(),
    wantedPx: z.number(),
  }),
  z.object({
    reason: z.literal('format-not-made'),
    message: z.string(),
    wanted: z.array(z.string()),
    possible: z.array(z.string()),
  }),
  z.object({ reason: z.literal('cannot-be-changed'), message: z.string(), limitId: z.string() }),
  /** What the plan comes to falls short of a *must*; the message tells by how much and what helps. */
  z.object({ reason: z.literal('cannot-be-met'), message: z.string(), limitId: z.string() }),
  /** The recipe asks for something that Apodix does not make yet. */
  z.object({ reason: z.literal('recipe-not-made'), message: z.string() }),
]);
export type Refusal = z.infer<typeof Refusal>;
