import { z } from 'zod';

/** What a person has chosen in Fit in place of the best that fits; no part of the recipe. */
export const FitChoice = z.strictObject({
  /** Short edge in pixels; null leaves it to the plan. */
  lines: z.int().min(64).max(4320).nullable(),
  /** 2 keeps every other frame. */
  rateDivisor: z.union([z.literal(1), z.literal(2)]),
  /** No more bytes than this for the whole file; null for the limit's own. */
  maxBytes: z.int().positive().nullable(),
  /** Bits a second of a stereo pair; null for what the plan would give it. */
  soundBps: z.int().min(32_000).max(512_000).nullable(),
});
export type FitChoice = z.infer<typeof FitChoice>;
