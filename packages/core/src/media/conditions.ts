import { z } from 'zod';

/** What inspection noticed of the conditions that a take was made under. */
export const Conditions = z.object({
  /** Mean brightness of the picture, 0 to 255, and red against blue of its greys; null for sound. */
  brightness: z.number().nullable(),
  warmth: z.number().nullable(),
  /** `measureBlur` of the sharpest tenth of the looks, 0 sharp to 1; null where nothing could tell. */
  blur: z.number().nullable(),
  /** How much louder the louder side is, in dB; null for one side or silence. */
  sidesApartDb: z.number().nullable(),
  /** The mains tone in the quiet parts. */
  humHz: z.union([z.literal(50), z.literal(60)]).nullable(),
  /** Stretches at both ends in which nothing is heard and nothing moves. */
  emptyHeadUs: z.int().nonnegative(),
  emptyTailUs: z.int().nonnegative(),
});
export type Conditions = z.infer<typeof Conditions>;
