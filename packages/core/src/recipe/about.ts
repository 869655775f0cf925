import { z } from 'zod';

/** As much as IPTC's shortest field of rights holds in letters of one byte. */
export const MOST_ABOUT_SIGNS = 120;
const Line = z
  .string()
  .max(MOST_ABOUT_SIGNS)
  .regex(/^[^\p{Cc}]*$/u, { message: 'One line, without control signs.' });

/** What a photograph's file tells about the piece, for whoever opens it later; empty is not told. */
export const About = z
  .strictObject({ title: Line, artist: Line, rights: Line })
  .refine((about) => Object.values(about).some((each) => each.trim() !== ''), {
    message: 'Nothing is told about the piece.',
  });
export type About = z.infer<typeof About>;
