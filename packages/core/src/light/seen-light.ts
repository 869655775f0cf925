import { z } from 'zod';
import { EvenLight } from './even-light.ts';

/** How a photograph was lit, as far as blank paper or an even ground tells. */
export const SeenLight = z.object({
  even: EvenLight,
  /** What told it: the margin of the piece, what lies around it, the picture's border, or a blank sheet. */
  by: z.enum(['margin', 'ground', 'border', 'sheet']),
  /** How much darker the darkest place is lit than the brightest, in shares; and once it is evened. */
  before: z.number().min(0).max(1),
  after: z.number().min(0).max(1),
  /** Light of blank paper where it is brightest: red, green, blue, 0 to 1; null where none was seen. */
  paper: z.tuple([z.number(), z.number(), z.number()]).nullable(),
});
export type SeenLight = z.infer<typeof SeenLight>;
