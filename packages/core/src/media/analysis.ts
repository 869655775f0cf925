import { z } from 'zod';

/** Drawn evidence of a take, made while it is brought in; pictures are kept beside it. */
export const SoundPeaks = z.object({
  /** Columns a second. */
  columnsPerSecond: z.number().positive(),
  /** Highest absolute sample of each column, 0 to 1. */
  peaks: z.array(z.number().min(0).max(1)),
});
export type SoundPeaks = z.infer<typeof SoundPeaks>;

export const Filmstrip = z.object({
  tileWidthPx: z.int().positive(),
  tileHeightPx: z.int().positive(),
  tileCount: z.int().positive(),
});
export type Filmstrip = z.infer<typeof Filmstrip>;

/**
 * How much coding each part of a take asks for: the bits that a quick coding of a small picture spent on it,
 * a column for each stretch of time.
 */
export const TakeComplexity = z.object({
  columnUs: z.int().positive(),
  bits: z.array(z.number().nonnegative()),
});
export type TakeComplexity = z.infer<typeof TakeComplexity>;
