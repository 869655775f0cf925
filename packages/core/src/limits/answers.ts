import { z } from 'zod';

/** Chosen readings by the id of their question. */
export const Answers = z
  .record(z.string().max(300), z.union([z.literal(0), z.literal(1)]))
  .refine((answers) => Object.keys(answers).length <= 200, 'Too many answers.');
export type Answers = Readonly<z.infer<typeof Answers>>;
