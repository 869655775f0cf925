import { z } from 'zod';

export const SUGGEST_SUBJECTS = ['music', 'drama', 'pe'] as const;
export const SuggestSubject = z.enum(SUGGEST_SUBJECTS);
export type SuggestSubject = z.infer<typeof SuggestSubject>;

/** Where a performance begins and ends in its take. */
export const PerformanceSpan = z.object({
  subject: SuggestSubject,
  /** The onset of its first sound or movement, and the decay of its last; without any margin. */
  startUs: z.int().nonnegative(),
  finishUs: z.int().nonnegative(),
  startReason: z.string(),
  finishReason: z.string(),
  /** 0 to 1; below `LEAST_SUGGEST_CONFIDENCE` a person has to look. */
  confidence: z.number().min(0).max(1),
  /** Seconds of notes or of voice, next to none of movement alone: what speaks for the subject. */
  weightS: z.number().nonnegative(),
});
export type PerformanceSpan = z.infer<typeof PerformanceSpan>;
