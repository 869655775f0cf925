import { z } from 'zod';

/** Of what is on paper so much is read. */
export const MOST_PAPER_BYTES = 20_000_000;
/** Base 64 (RFC 4648): four characters for three bytes. */
export const MOST_PAPER_CHARACTERS = Math.ceil(MOST_PAPER_BYTES / 3) * 4;

/** A PDF, a photograph or a scan of printed instructions. */
export const PaperInput = z.object({ dataBase64: z.base64().min(4).max(MOST_PAPER_CHARACTERS) });

/** A word that the recogniser was not sure of. Positions are UTF-16 units of the text. */
export const DoubtfulWord = z.object({
  start: z.int().nonnegative(),
  end: z.int().nonnegative(),
  text: z.string(),
  /** 0 to 100. */
  confidence: z.number(),
});
export type DoubtfulWord = z.infer<typeof DoubtfulWord>;

/** What stands on paper or on a slide. */
export const PaperText = z.object({
  text: z.string(),
  /** Whether the text stood in the file, or was recognised from a picture. */
  how: z.enum(['text', 'recognised']),
  doubtful: z.array(DoubtfulWord),
  /** Each page as a JPEG in base 64, laid flat and evenly lit where it was a photograph. */
  pages: z.array(z.string()),
});
export type PaperText = z.infer<typeof PaperText>;
