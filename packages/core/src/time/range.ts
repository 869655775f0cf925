import { z } from 'zod';

/** A span of a source's presentation time in integer microseconds; start inclusive, finish exclusive. */
export const TimeRange = z
  .object({ startUs: z.int().min(0), finishUs: z.int().min(1) })
  .refine((range) => range.finishUs > range.startUs, { message: 'The finish has to come after the start.' });
export type TimeRange = z.infer<typeof TimeRange>;

export function measureRangeUs(range: TimeRange): number {
  return range.finishUs - range.startUs;
}
